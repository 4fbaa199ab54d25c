import type { Labelled } from './passages.js';

/**
 * Written after the put-away half of the first two sets was looked at and before anything it showed was mended; looked at
 * once, at the end. passage-set-1.ts says how to read a label.
 */
export const PASSAGE_SET_3: readonly Labelled[] = [
  {
    kind: 'lists',
    text: 'With the desktop license, you may:\n- create static graphics\n- print books and magazines\n- make signage\n\nWith the desktop license, you may not:\n- use the fonts as live text on web pages\n- embed them in software',
    says: { g: '?: print books and magazines', w: '?: live text on web pages', a: '?: embed them in software' },
  },
  {
    kind: 'lists',
    text: 'YES:\n* headlines\n* T-shirts\n* your own logo\nNO:\n* font downloads\n* selling this font\n* putting it on a server',
    says: { g: 'yes: T-shirts', o: 'yes: your own logo', x: 'no: selling this font', w: 'no: putting it on a server' },
  },
  {
    kind: 'lists',
    text: 'You have permission to\n1) install the fonts on your computers,\n2) use them to make products,\n3) use them for branding.\nYou do not have permission to\n1) give the fonts away,\n2) turn them into other fonts.',
    says: {
      d: '?: install the fonts',
      g: '?: to make products',
      o: '?: for branding',
      x: '?: give the fonts away',
      m: '?: turn them into other fonts',
    },
  },
  {
    kind: 'lists',
    text: 'Not allowed: renaming, editing, reselling. Allowed: print, packaging, logo.',
    says: { m: 'no: renaming, editing', x: 'no: reselling', g: 'yes: print, packaging', o: 'yes: logo' },
  },
  {
    kind: 'lists',
    text: 'Prohibited uses:\n• webfonts\n• e-books\n• any kind of lending\n\nAny other use is subject to the price list on our page.',
    says: { w: 'no: webfonts', p: 'no: e-books', x: 'no: any kind of lending' },
    restricts: ['subject to the price list'],
  },
  {
    kind: 'lists',
    text: 'What is in the box:\n- 3 fonts\n- a desktop license for you\n- a discount code\nWhat is not in the box:\n- web fonts\n- support',
    says: { d: 'ask: a desktop license for you', w: 'ask: web fonts' },
  },
  {
    kind: 'ticks',
    text: '✔ Business cards\n✔ Packaging\n✖ Web\n✖ Resale of the font',
    says: { g: 'yes: Business cards', w: 'no: Web', x: 'no: Resale of the font' },
  },
  { kind: 'ticks', text: '👍 print 👍 logo 👎 app 👎 website', says: { g: '?: print', o: '?: logo', a: '?: app', w: '?: website' } },
  {
    kind: 'ticks',
    text: 'Website use ✓\nE-book use ✓\nGame use ✗\nModification ✗',
    says: { w: 'yes: Website use', p: 'yes: E-book use', a: 'no: Game use', m: 'no: Modification' },
  },
  {
    kind: 'ticks',
    text: 'Commercial use — yes\nRedistribution — no\nModification — no',
    says: { C: 'yes: Commercial use', x: 'no: Redistribution', m: 'no: Modification' },
  },
  { kind: 'columns', text: 'Print\tallowed\nWeb\tnot allowed\nApp\task', says: { g: '?: Print', w: '?: Web', a: '?: App' } },
  {
    kind: 'columns',
    text: 'Right | Personal license | Commercial license\nSell goods | no | yes\nLogo | no | yes',
    says: { g: 'ask: Sell goods', o: 'ask: Logo' },
  },
  {
    kind: 'columns',
    text: 'Web: up to 20,000 page views. Desktop: 1 seat. Merchandise: excluded.',
    says: { w: '?: up to 20,000 page views', d: '?: 1 seat', g: 'no: Merchandise' },
    limits: { website: 20000, 'design-work': 1 },
  },
  {
    kind: 'questions',
    text: 'May I use the font for my company? Of course. May I use it for my customers? Of course. May I send it to my customers? Absolutely not.',
    says: { C: '?: for my company', x: 'no: send it to my customers' },
  },
  {
    kind: 'questions',
    text: 'Q. Can I alter the letters of a logo I set in this font?\nA. Yes, as curves.\nQ. Can I alter the font?\nA. No.',
    says: { o: '?: the letters of a logo', m: 'ask: Can I alter the font' },
  },
  {
    kind: 'questions',
    text: 'Is it free? Yes, for private projects. And if I earn money with it? Then a license costs 15 euros.',
    says: { C: 'ask: if I earn money with it' },
  },
  {
    kind: 'questions',
    text: 'Can I put it on mugs?\nYou can!\nCan I let people type their name on the mug in my shop?\nThat takes another license.',
    says: { g: 'yes: Can I put it on mugs', c: 'ask: let people type their name' },
  },
  {
    kind: 'questions',
    text: 'Do you allow web embedding? We do. Do you allow conversion to WOFF2? We do not; WOFF2 files are in the folder.',
    says: { w: 'yes: Do you allow web embedding', m: 'ask: conversion to WOFF2' },
  },
  { kind: 'questions', text: 'Do you mind if I sell shirts with it? Not at all.', says: { g: 'yes: sell shirts' } },
  {
    kind: 'exceptions',
    text: 'Print whatever you like. Sell whatever you print. Just one thing: no calendars.',
    says: { g: 'ask: Print whatever you like|no calendars' },
  },
  {
    kind: 'exceptions',
    text: 'You may use the typeface in apps. Gambling apps are not covered.',
    says: { a: 'ask: in apps|Gambling apps' },
  },
  {
    kind: 'exceptions',
    text: 'Logos are included in the license. Use by television stations needs a broadcast license.',
    says: { o: 'yes: Logos are included' },
    restricts: ['needs a broadcast license'],
  },
  {
    kind: 'exceptions',
    text: 'You may convert the fonts to web formats. You may not offer the converted files to others.',
    says: { m: 'ask: convert the fonts|converted files', x: 'no: offer the converted files' },
  },
  {
    kind: 'exceptions',
    text: 'All commercial work is permitted. This permission can be withdrawn at any time.',
    says: { C: 'ask: All commercial work' },
    restricts: ['can be withdrawn'],
  },
  {
    kind: 'exceptions',
    text: 'Use on packaging is allowed worldwide. Not in Liechtenstein, for reasons we will tell you over coffee.',
    says: { g: 'ask: Use on packaging' },
    restricts: ['Not in Liechtenstein'],
  },
  {
    kind: 'exceptions',
    text: 'The font can be used in PDFs. Editable PDFs count as software and are not allowed.',
    says: { p: 'ask: used in PDFs|Editable PDFs', a: '?: count as software' },
  },
  {
    kind: 'exceptions',
    text: 'Web use: allowed. Last updated in May. Since June, web use needs a subscription.',
    says: { w: 'ask: Web use: allowed|Since June' },
  },
  { kind: 'payment', text: 'Use it in your shop’s logo for 30 $ one time.', says: { o: 'ask: logo for 30 $' } },
  { kind: 'payment', text: 'The web license is sold separately.', says: { w: 'ask: web license is sold separately' } },
  {
    kind: 'payment',
    text: 'You may print goods for sale with it; a tip is welcome, not needed.',
    says: { g: 'yes: print goods for sale' },
  },
  {
    kind: 'payment',
    text: 'Buyers of the bundle can use all fonts in logos and on goods.',
    says: { o: 'ask: Buyers of the bundle', g: 'ask: Buyers of the bundle' },
  },
  {
    kind: 'payment',
    text: 'Commercial license: €24. Personal license: free. Download the one you need.',
    says: { C: 'ask: Commercial license' },
  },
  {
    kind: 'object',
    text: 'You can edit the template that comes with the font. The font is locked.',
    says: { m: 'ask: The font is locked' },
  },
  { kind: 'object', text: 'You may copy the sample text and put it on your website.', says: { w: 'ask: put it on your website' } },
  {
    kind: 'object',
    text: 'The website of the foundry may be linked. The fonts may be printed on shirts.',
    says: { g: 'yes: printed on shirts' },
  },
  { kind: 'object', text: 'Mockups are included for your presentation and may be modified.', says: { m: 'ask: may be modified' } },
  {
    kind: 'object',
    text: 'You may distribute your posters freely. You may sell your posters.',
    says: { x: 'ask: distribute your posters', g: 'yes: sell your posters' },
  },
  { kind: 'object', text: 'The installer may be copied to a USB stick.', says: {} },
  { kind: 'double', text: 'I have never refused anybody the use in a logo.', says: { o: 'ask: the use in a logo' } },
  { kind: 'double', text: 'There are no restrictions on printed products.', says: { g: 'yes: no restrictions on printed products' } },
  { kind: 'double', text: 'Without exception, apps may not contain the font.', says: { a: 'no: apps may not contain' } },
  { kind: 'double', text: 'It is not true that the fonts can be shared.', says: { x: 'no: can be shared' } },
  { kind: 'double', text: 'You are not permitted not to credit us when you print books.', says: { g: 'ask: when you print books' } },
  {
    kind: 'double',
    text: 'The use in PDF is not only allowed, it is the very purpose of this typeface.',
    says: { p: 'yes: The use in PDF' },
  },
  { kind: 'double', text: 'I don’t want to see this font in an app.', says: { a: 'no: in an app' } },
  {
    kind: 'limits',
    text: 'Not more than 3 computers may have the font installed.',
    says: { d: 'yes: Not more than 3 computers' },
    limits: { 'design-work': 3 },
  },
  {
    kind: 'limits',
    text: 'Up to 2,500 physical items may be sold under this license.',
    says: { g: 'yes: Up to 2,500 physical items' },
    limits: { 'printed-goods': 2500 },
  },
  {
    kind: 'limits',
    text: 'Your site may have 1 million page views a month.',
    says: { w: 'yes: 1 million page views' },
    limits: { website: 1000000 },
  },
  { kind: 'limits', text: 'You may embed it in one game.', says: { a: 'yes: in one game' }, limits: { app: 1 } },
  {
    kind: 'contrast',
    text: 'The OFL edition of this family may be sold with software. This is the retail edition, which may not.',
    says: { a: 'no: which may not', x: '?: may be sold' },
  },
  { kind: 'contrast', text: 'Other foundries forbid logos. We do not.', says: { o: 'yes: forbid logos|We do not' } },
  {
    kind: 'english',
    text: 'Allow: all print. Not allow: all digital (web, app, epub).',
    says: { g: 'yes: all print', w: 'no: web', a: 'no: app', p: 'no: epub' },
  },
  {
    kind: 'english',
    text: 'You free use in your business, make money with it no problem. Only can not sell font again.',
    says: { C: 'yes: in your business', x: 'no: can not sell font again' },
  },
  {
    kind: 'english',
    text: 'for logo you must ask me, for tshirt you not must ask me',
    says: { o: 'ask: for logo you must ask me', g: 'yes: for tshirt' },
  },
  {
    kind: 'general',
    text: 'FREE TRIAL FONT. Logos: yes. Print: yes. Web: yes.',
    says: { o: 'ask: Logos', g: 'ask: Print', w: 'ask: Web' },
    restricts: ['FREE TRIAL FONT'],
  },
  {
    kind: 'general',
    text: 'Made for my friends. If you are not my friend, leave it. Friends may print with it.',
    says: { g: 'ask: Friends may print' },
    restricts: ['If you are not my friend'],
  },
  {
    kind: 'general',
    text: 'License: 1 year. The font may be used on packaging and labels.',
    says: { g: 'ask: on packaging and labels' },
    restricts: ['1 year'],
  },
  {
    kind: 'contract',
    text: 'The Licensee is hereby granted the right to reproduce the Typeface on merchandise of any kind and in any quantity. The Licensee is not granted the right to embed the Typeface in mobile applications.',
    says: { g: 'yes: on merchandise of any kind', a: 'no: in mobile applications' },
  },
  {
    kind: 'contract',
    text: 'The Font Software may be modified by the Licensee. The Font Software may not be transmitted to third parties.',
    says: { m: 'yes: may be modified', x: 'no: transmitted to third parties' },
  },
  {
    kind: 'plain',
    text: 'You are welcome to print this typeface on your products. Please do not redistribute the files.',
    says: { g: 'yes: on your products', x: 'no: redistribute the files' },
  },
];
