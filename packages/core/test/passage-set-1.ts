/*
 * Terms of every kind that readers trip over, invented by us before any rule was written. A label says of a use what a careful
 * reader takes from the text (yes, no, or ask where it depends on something or is not settled), and which words of the text
 * must stand beside that use. C stands for printed goods and logo, which is what "commercial" is about; what holds for a
 * website holds for an online store unless it is labelled itself. `restricts` are words that must be shown somewhere.
 */
import type { Labelled } from './passages.js';

export const PASSAGE_SET_1: readonly Labelled[] = [
  // Headings with bullets of what one can and cannot do.
  {
    kind: 'lists',
    text: 'WHAT YOU CAN DO\n- Install it on your own computer\n- Make posters and packaging with it\n- Put it on one website\n\nWHAT YOU CANNOT DO\n- Resell the files\n- Put it in an app\n- Change the outlines and pass them off as yours',
    says: {
      d: 'yes: Install it on your own computer',
      g: 'yes: posters and packaging',
      w: 'yes: one website',
      x: 'no: Resell the files',
      a: 'no: in an app',
      m: 'no: Change the outlines',
    },
  },
  {
    kind: 'lists',
    text: 'This license allows:\n* use on up to 3 computers\n* printed matter of any kind\n* logos\n\nThis license does not allow:\n* embedding in software\n* web fonts\n* lending the file to others',
    says: {
      d: 'yes: up to 3 computers',
      g: 'yes: printed matter of any kind',
      o: 'yes: logos',
      a: 'no: embedding in software',
      w: 'no: web fonts',
      x: 'no: lending the file',
    },
    limits: { 'design-work': 3 },
  },
  {
    kind: 'lists',
    text: 'Permitted\n1. Desktop use by one person.\n2. Static images for social media.\n3. Goods for sale, up to 250 pieces.\n\nNot permitted\n1. Print-on-demand where the buyer types the text.\n2. Self-hosted web fonts.\n3. Conversion to other formats.',
    says: {
      d: 'yes: Desktop use by one person',
      g: 'yes: Goods for sale, up to 250 pieces',
      c: 'no: the buyer types the text',
      w: 'no: Self-hosted web fonts',
      m: 'no: Conversion to other formats',
    },
    limits: { 'printed-goods': 250 },
  },
  {
    kind: 'lists',
    text: "You're free to:\n• print it on anything you sell\n• use it in your logo\n• embed it in PDFs\nPlease don't:\n• upload it to online editors\n• share the font file",
    says: {
      g: 'yes: print it on anything you sell',
      o: 'yes: in your logo',
      p: 'yes: embed it in PDFs',
      t: 'no: upload it to online editors',
      x: 'no: share the font file',
    },
  },
  {
    kind: 'lists',
    text: 'Included in the price: desktop, logo, print. Not included: web, app, e-book.',
    says: { d: 'yes: desktop', o: 'yes: logo', g: 'yes: print', w: 'no: web', a: 'no: app', p: 'no: e-book' },
  },
  {
    kind: 'lists',
    text: 'The following uses need an extended license:\n- more than 500 copies of a product\n- mobile games\n- templates that your customers edit\nEverything else a business does with letters on paper is covered by this one.',
    says: {
      g: 'ask: more than 500 copies of a product|Everything else a business does',
      a: 'no: mobile games',
      c: 'no: templates that your customers edit',
    },
    restricts: ['more than 500 copies'],
  },
  {
    kind: 'lists',
    text: 'Rules for this typeface\nDo: set headlines with it, cut it in vinyl, print shirts.\nDon’t: sell the files, rename the fonts, feed it to an online logo maker.',
    says: { g: 'yes: cut it in vinyl, print shirts', x: 'no: sell the files', m: 'no: rename the fonts', t: 'no: online logo maker' },
  },
  {
    kind: 'lists',
    text: 'With this font you are NOT permitted to:\n  a) distribute the software to third parties;\n  b) decompile or alter it;\n  c) bundle it with an application.\nYou are permitted to:\n  a) use it in documents that you print or send as PDF.',
    says: {
      x: 'no: distribute the software to third parties',
      m: 'no: decompile or alter it',
      a: 'no: bundle it with an application',
      p: 'yes: documents that you print or send as PDF',
      g: '?: documents that you print',
    },
  },
  {
    kind: 'lists',
    text: 'Personal license\n  - school work, invitations, your diary\n  - no goods for sale\nStudio license (29 €)\n  - goods for sale, packaging, shop signs\n  - one logo\nYou received the personal license with this download.',
    says: { g: 'no: no goods for sale|goods for sale, packaging', o: 'no: one logo' },
    restricts: ['You received the personal license'],
  },
  {
    kind: 'lists',
    text: 'What may I not do with the font?\n– give it to friends\n– offer it for download\n– use it as part of a sign generator on the web\nAll other use in your own work, paid or unpaid, is fine with us.',
    says: { x: 'no: give it to friends', c: 'no: sign generator', C: 'yes: All other use in your own work, paid or unpaid' },
  },
  // Ticks and crosses.
  {
    kind: 'ticks',
    text: '✓ Desktop\n✓ Logo\n✓ Merchandise\n✗ Web\n✗ App',
    says: { d: 'yes: Desktop', o: 'yes: Logo', g: 'yes: Merchandise', w: 'no: Web', a: 'no: App' },
  },
  {
    kind: 'ticks',
    text: '[x] Use on business cards, menus and labels\n[x] Use in PDF brochures\n[ ] Use in e-books\n[ ] Use as a web font\nA box that is not ticked is not part of what you bought.',
    says: { g: 'yes: business cards, menus and labels', p: 'ask: PDF brochures|e-books', w: 'no: Use as a web font' },
    restricts: ['A box that is not ticked'],
  },
  {
    kind: 'ticks',
    text: '✅ commercial projects\n✅ client work\n❌ redistribution\n❌ modifying the font file\n❌ web embedding',
    says: { C: 'yes: commercial projects', x: 'no: redistribution', m: 'no: modifying the font file', w: 'no: web embedding' },
  },
  {
    kind: 'ticks',
    text: 'Print: yes. Logo: yes. Website: no. App: no. Convert to other formats: no.',
    says: { g: 'yes: Print', o: 'yes: Logo', w: 'no: Website', a: 'no: App', m: 'no: Convert to other formats' },
  },
  {
    kind: 'ticks',
    text: '(+) posters, flyers, shop windows\n(+) your own web site\n(-) selling the font\n(-) putting it into a program',
    says: {
      g: 'yes: posters, flyers, shop windows',
      w: 'yes: your own web site',
      x: 'no: selling the font',
      a: 'no: putting it into a program',
    },
  },
  {
    kind: 'ticks',
    text: 'Logos ...... OK\nSigns and packaging ...... OK\nWebfonts ...... ask me\nGames ...... not OK',
    says: { o: 'yes: Logos', g: 'yes: Signs and packaging', w: 'ask: Webfonts', a: 'no: Games' },
  },
  // Columns.
  {
    kind: 'columns',
    text: 'Use\tBasic\tPro\nDesktop\tyes\tyes\nWebsite\tno\tyes\nApp\tno\tno\nThis is the Basic license.',
    says: { d: 'yes: Desktop', w: 'no: Website', a: 'no: App' },
    restricts: ['This is the Basic license'],
  },
  {
    kind: 'columns',
    text: '| Use | Allowed |\n|---|---|\n| Print | yes |\n| Website | up to 10,000 views a month |\n| Ebook | no |',
    says: { g: 'yes: Print', w: 'ask: up to 10,000 views a month', p: 'no: Ebook' },
    limits: { website: 10000 },
  },
  {
    kind: 'columns',
    text: 'Allowed              Not allowed\nlogo design          selling the font\nprinted products     use in games\nPDF embedding        web embedding',
    says: {
      o: '?: logo design',
      x: '?: selling the font',
      g: '?: printed products',
      a: '?: use in games',
      p: '?: PDF embedding',
      w: '?: web embedding',
    },
  },
  {
    kind: 'columns',
    text: 'License type: Desktop. Seats: 2. Web: none. App: none. Goods: unlimited.',
    says: { d: 'yes: Seats: 2', w: 'no: Web: none', a: 'no: App: none', g: 'yes: Goods: unlimited' },
    limits: { 'design-work': 2 },
  },
  // Questions with short answers.
  {
    kind: 'questions',
    text: 'Can I use it commercially?\nYes.\n\nCan I use it in an app?\nNo, you need another license for that.\n\nMay I edit the font?\nSorry, no.',
    says: { C: 'yes: Can I use it commercially', a: 'no: Can I use it in an app', m: 'no: May I edit the font' },
  },
  {
    kind: 'questions',
    text: 'Q: Is it OK to put the font on my website?\nA: Sure!\nQ: And on T-shirts that I sell?\nA: Only with the extended license.\nQ: May my printer get a copy?\nA: Yes, if he deletes it afterwards.',
    says: { w: 'yes: put the font on my website', g: 'no: on T-shirts that I sell', x: 'ask: May my printer get a copy' },
    restricts: ['if he deletes it afterwards'],
  },
  {
    kind: 'questions',
    text: 'Do I need to pay for commercial use? No. Do I have to credit you? It would be nice, but no. Can I redistribute it? Please link to my page instead.',
    says: { C: 'yes: Do I need to pay for commercial use', x: 'no: Can I redistribute it' },
  },
  {
    kind: 'questions',
    text: 'Is anything forbidden?\nYes: selling the file, and putting your own name on it.\nWhat about logos?\nGo ahead.',
    says: { x: 'no: selling the file', o: 'yes: What about logos' },
    restricts: ['putting your own name on it'],
  },
  {
    kind: 'questions',
    text: 'How many computers? Five.\nHow many websites? One.\nHow many page views? 50,000 each month.\nCan I make an e-book? Ask us first.',
    says: { d: 'yes: How many computers', w: 'yes: How many websites', p: 'ask: Can I make an e-book' },
    limits: { 'design-work': 5, website: 50000 },
  },
  {
    kind: 'questions',
    text: 'Is there any use that you would not allow? Not really, except putting the font itself up for sale.',
    says: { x: 'no: putting the font itself up for sale' },
  },
  {
    kind: 'questions',
    text: 'Isn’t it allowed to use the fonts in a video game? It is, as images. The files themselves must stay out of the game.',
    says: { a: 'no: must stay out of the game' },
  },
  // Exceptions further down that take back.
  {
    kind: 'exceptions',
    text: 'You may use the font for any purpose, private or commercial. Print, web, apps, signs: all fine.\n\nEnjoy the letters!\n\nOne exception: companies with more than 20 employees need a corporate license.',
    says: { C: 'ask: for any purpose', w: 'ask: web', a: 'ask: apps' },
    restricts: ['companies with more than 20 employees'],
  },
  {
    kind: 'exceptions',
    text: 'The font may be used on products for sale. This grant does not extend to products whose main value is the lettering, such as alphabet posters and rubber stamp sets.',
    says: { g: 'ask: products for sale|whose main value is the lettering' },
  },
  {
    kind: 'exceptions',
    text: '1. You may embed the fonts in documents.\n2. You may embed the fonts on your website.\n3. Section 2 applies only to customers who bought the Web package.',
    says: { p: 'yes: in documents', w: 'ask: on your website' },
    restricts: ['Section 2 applies only'],
  },
  {
    kind: 'exceptions',
    text: 'Logos are welcome. So are book covers, mugs and tote bags. The above is void for tobacco, weapons and political parties.',
    says: { o: 'ask: Logos are welcome', g: 'ask: mugs and tote bags' },
    restricts: ['The above is void'],
  },
  {
    kind: 'exceptions',
    text: 'Use it in as many websites as you like. Redistribution is okay too. Except that you must not charge money for the font.',
    says: { w: 'yes: as many websites as you like', x: 'ask: Redistribution is okay|must not charge money' },
  },
  {
    kind: 'exceptions',
    text: 'Modification of the font software is permitted for your internal use. Notwithstanding the foregoing, you shall not create derivative works for distribution.',
    says: { m: 'ask: Modification of the font software|derivative works for distribution', x: '?: for distribution' },
  },
  {
    kind: 'exceptions',
    text: 'All rights to use the fonts in print and on the web are granted, with the exception of use by resellers of printed T-shirts.',
    says: { g: 'ask: in print', w: 'ask: on the web' },
    restricts: ['with the exception of'],
  },
  {
    kind: 'exceptions',
    text: 'You can print whatever you want with this font.\n\n***\n\nP.S. Whatever, but not stickers. I sell those myself.',
    says: { g: 'ask: print whatever you want|not stickers' },
  },
  {
    kind: 'exceptions',
    text: 'Commercial use: allowed. Note however that the swash capitals (file 2) are for personal use.',
    says: { C: 'ask: Commercial use: allowed' },
    restricts: ['are for personal use'],
  },
  // A grant that starts only with a payment.
  {
    kind: 'payment',
    text: 'After a donation of 10 dollars you may use the font commercially.',
    says: { C: 'ask: After a donation of 10 dollars' },
  },
  {
    kind: 'payment',
    text: 'Webfont use is possible with our web add-on, from 15 EUR a year.',
    says: { w: 'ask: web add-on' },
  },
  {
    kind: 'payment',
    text: 'Commercial use costs a beer. Send me five euros and print as many shirts as you like.',
    says: { g: 'ask: Send me five euros', o: '?: Commercial use costs a beer' },
  },
  {
    kind: 'payment',
    text: 'The full family may be used on goods for sale. To get the full family, buy it at our shop; this is the free sample.',
    says: { g: 'ask: The full family may be used on goods for sale' },
    restricts: ['this is the free sample'],
  },
  {
    kind: 'payment',
    text: 'Apps are covered for an additional fee of 80 per title. Desktop use is covered for everyone who bought the font.',
    says: { a: 'ask: for an additional fee', d: 'ask: Desktop use is covered' },
  },
  {
    kind: 'payment',
    text: 'Once your order is paid, you may install the fonts and use them for logos and print. Until then they are for viewing only.',
    says: { d: 'ask: you may install the fonts', o: 'ask: for logos and print', g: 'ask: for logos and print' },
    restricts: ['Until then they are for viewing only'],
  },
  {
    kind: 'payment',
    text: 'Free for private persons. Businesses pay what they want, but at least 12 euros, and may then use it in print and on the web.',
    says: { g: 'ask: Businesses pay what they want', w: 'ask: Businesses pay what they want' },
  },
  {
    kind: 'payment',
    text: 'This font is shareware. If you keep using it for client jobs, register your copy for $8.',
    says: { C: 'ask: for client jobs' },
  },
  // The wrong object.
  {
    kind: 'object',
    text: 'You may convert the text to outlines and change the shapes in your drawing. The font file stays as it is.',
    says: { m: 'no: The font file stays as it is' },
  },
  {
    kind: 'object',
    text: 'You may print a copy of this license for your records.',
    says: {},
  },
  {
    kind: 'object',
    text: 'Documents made with the font may be printed by any print shop. No font file may be sent along.',
    says: { x: 'no: No font file may be sent along', g: '?: may be printed by any print shop' },
  },
  {
    kind: 'object',
    text: 'Our website uses cookies. By visiting the online store you accept the privacy policy. Refunds are not possible for digital goods.',
    says: {},
  },
  {
    kind: 'object',
    text: 'You may share pictures of your work on social media. Sharing the fonts is another matter: that is forbidden.',
    says: { x: 'no: Sharing the fonts' },
  },
  {
    kind: 'object',
    text: 'This font was designed with a font editing application. The application is not included.',
    says: {},
  },
  {
    kind: 'object',
    text: 'You may modify the artwork that you set with the font. Renaming or changing the software itself is not granted.',
    says: { m: 'no: Renaming or changing the software itself' },
  },
  {
    kind: 'object',
    text: 'Copyright and trademark: the name and logo of our foundry may not be used in your advertising.',
    says: {},
    restricts: ['the name and logo of our foundry'],
  },
  {
    kind: 'object',
    text: 'Read the instructions on our website before installing. If you have bought several licenses, share them in your team as you like.',
    says: {},
  },
  {
    kind: 'object',
    text: 'You may make one backup copy. The backup must not be used on a second computer.',
    says: { d: '?: must not be used on a second computer' },
    restricts: ['must not be used on a second computer'],
  },
  // Double negations that grant.
  {
    kind: 'double',
    text: 'There is no reason why you should not use it for commercial work.',
    says: { C: 'yes: for commercial work' },
  },
  {
    kind: 'double',
    text: 'Nothing in these terms prevents you from putting the font on your website.',
    says: { w: 'yes: on your website' },
  },
  {
    kind: 'double',
    text: 'We do not object to use in logos, nor do we forbid packaging.',
    says: { o: 'yes: use in logos', g: 'yes: packaging' },
  },
  {
    kind: 'double',
    text: 'It is not forbidden to embed the fonts in PDF files.',
    says: { p: 'yes: in PDF files' },
  },
  {
    kind: 'double',
    text: 'Modifying the font is by no means prohibited. Keep the original name out of it, though.',
    says: { m: 'ask: Modifying the font' },
    restricts: ['Keep the original name out of it'],
  },
  {
    kind: 'double',
    text: 'You need not ask us before you use the typeface on goods that you sell.',
    says: { g: 'yes: on goods that you sell' },
  },
  // Double negations that ban.
  {
    kind: 'double',
    text: 'No one may, without a written agreement, put this font in an application.',
    says: { a: 'no: in an application' },
  },
  {
    kind: 'double',
    text: 'Nothing here should be read as permission to use the font on the web.',
    says: { w: 'no: on the web' },
  },
  {
    kind: 'double',
    text: 'Under no circumstances is it not a breach to resell the files.',
    says: { x: 'no: to resell the files' },
  },
  {
    kind: 'double',
    text: 'Use in logos is not something that we allow.',
    says: { o: 'no: Use in logos' },
  },
  {
    kind: 'double',
    text: 'We cannot agree that you print merchandise with it unless you hold the merchandise license.',
    says: { g: 'no: print merchandise' },
  },
  {
    kind: 'double',
    text: 'No permission to convert the font is given.',
    says: { m: 'no: to convert the font' },
  },
  // A limit that reads like a ban.
  {
    kind: 'limits',
    text: 'Traffic to the websites must not exceed 100,000 page views per month.',
    says: { w: '?: must not exceed 100,000 page views' },
    limits: { website: 100000 },
  },
  {
    kind: 'limits',
    text: 'You may install the fonts on no more than two computers.',
    says: { d: 'yes: no more than two computers' },
    limits: { 'design-work': 2 },
  },
  {
    kind: 'limits',
    text: 'Printed goods may be sold, but not more than 1,000 pieces of each.',
    says: { g: 'yes: not more than 1,000 pieces' },
    limits: { 'printed-goods': 1000 },
  },
  {
    kind: 'limits',
    text: 'The license is valid for one domain and twelve months. It renews for 19 € a year.',
    says: { w: '?: valid for one domain' },
    limits: { 'website-domains': 1 },
  },
  {
    kind: 'limits',
    text: 'The font may be embedded in up to three e-book titles and in a single app.',
    says: { p: 'yes: up to three e-book titles', a: 'yes: in a single app' },
    limits: { documents: 3, app: 1 },
  },
  {
    kind: 'limits',
    text: 'This license is for 10 users. Web use is limited to 25k pageviews/month.',
    says: { d: '?: for 10 users', w: 'yes: 25k pageviews/month' },
    limits: { 'design-work': 10, website: 25000 },
  },
  // Another license named only for contrast.
  {
    kind: 'contrast',
    text: 'Unlike fonts under the SIL Open Font License, this typeface may not be modified or redistributed.',
    says: { m: 'no: may not be modified', x: 'no: or redistributed' },
  },
  {
    kind: 'contrast',
    text: 'Our web license, which you did not buy, covers any number of sites. Your desktop license covers print and logos.',
    says: { w: 'no: Our web license, which you did not buy', g: 'yes: covers print and logos', o: 'yes: covers print and logos' },
  },
  {
    kind: 'contrast',
    text: 'The Apache License lets you do nearly everything. Mine does not: no commercial use, please.',
    says: { C: 'no: no commercial use' },
  },
  {
    kind: 'contrast',
    text: 'Compared with the App license, this Print license is cheaper and covers only printed matter.',
    says: { a: 'no: covers only printed matter', g: 'yes: covers only printed matter' },
  },
];
