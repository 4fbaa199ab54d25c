import type { Answer, Use } from '../src/rights/index.js';

/**
 * Terms as makers and sellers phrase them: invented by us, each with what a careful reader takes from it. Uses that a text
 * leaves open are left out; "ask" is what depends on something.
 */
export const TERMS_SET: readonly { text: string; expect: Partial<Record<Use, Answer>>; limits?: Partial<Record<Use, number>> }[] = [
  // Commercial or not, and the traps around it.
  { text: 'Free for personal use only.', expect: { 'design-work': 'ask', 'printed-goods': 'no', logo: 'no' } },
  { text: 'Not free for commercial use.', expect: { 'printed-goods': 'no', logo: 'no' } },
  { text: 'Free for personal AND commercial use.', expect: { 'design-work': 'yes', 'printed-goods': 'yes', logo: 'yes' } },
  { text: 'Commercial use requires a license.', expect: { 'printed-goods': 'no', logo: 'no' } },
  {
    text: 'This font is free for personal use. For commercial use please buy the full version.',
    expect: { 'printed-goods': 'no', logo: 'no', 'design-work': 'ask' },
  },
  { text: 'You may use this font for commercial purposes.', expect: { 'printed-goods': 'yes', logo: 'yes' } },
  { text: 'Commercial use is not allowed.', expect: { 'printed-goods': 'no', logo: 'no' } },
  { text: 'Commercial use is allowed.', expect: { 'printed-goods': 'yes', logo: 'yes' } },
  { text: 'Commercial use is prohibited without our written permission.', expect: { 'printed-goods': 'no', logo: 'no' } },
  { text: 'You can use it in commercial projects, no attribution required.', expect: { 'printed-goods': 'yes', logo: 'yes' } },
  { text: 'Strictly non-commercial.', expect: { 'printed-goods': 'no', logo: 'no' } },
  { text: 'Non-commercial use only!', expect: { 'design-work': 'ask', 'printed-goods': 'no', logo: 'no' } },
  { text: 'You may not use this typeface commercially.', expect: { 'printed-goods': 'no', logo: 'no' } },
  { text: 'You may use the font commercially as long as you credit me.', expect: { 'printed-goods': 'ask', logo: 'ask' } },
  { text: '100% free for commercial use, with no restrictions.', expect: { 'printed-goods': 'yes', logo: 'yes' } },
  { text: 'If you want to use it for commercial projects, contact me for a license.', expect: { 'printed-goods': 'no', logo: 'no' } },
  { text: 'The font is free. Commercial licenses are sold separately.', expect: { 'printed-goods': 'no', logo: 'no' } },
  { text: 'Use it for client work, I do not mind.', expect: {} },
  { text: 'Client projects are covered.', expect: { 'printed-goods': 'yes', logo: 'yes' } },
  {
    text: 'This is a demo version for testing purposes only.',
    expect: { 'printed-goods': 'no', logo: 'no', website: 'no', 'online-store': 'no', app: 'no', 'design-tool': 'no' },
  },
  { text: 'You can’t use this font to make money.', expect: { 'printed-goods': 'no', logo: 'no' } },
  { text: 'Commercial use is not prohibited.', expect: {} },
  {
    text: 'Not only personal but also commercial use is permitted.',
    expect: { 'printed-goods': 'yes', logo: 'yes', 'design-work': 'yes' },
  },
  { text: 'The license includes commercial use at no extra cost.', expect: { 'printed-goods': 'yes', logo: 'yes' } },
  // Goods and logos.
  { text: 'You may print it on products for sale such as mugs and t-shirts.', expect: { 'printed-goods': 'yes' } },
  { text: 'The font may be used on merchandise up to 500 units.', expect: { 'printed-goods': 'yes' }, limits: { 'printed-goods': 500 } },
  { text: 'Merchandise requires an extended license.', expect: { 'printed-goods': 'no' } },
  { text: 'Logos are allowed.', expect: { logo: 'yes' } },
  { text: 'You cannot use the font in a logo.', expect: { logo: 'no' } },
  { text: 'Use in logotypes is permitted; use in apps is not.', expect: { logo: 'yes', app: 'no' } },
  { text: 'Packaging and labels are covered, except items for resale.', expect: { 'printed-goods': 'no' } },
  { text: 'You are welcome to use it on posters and signage.', expect: { 'printed-goods': 'yes' } },
  // Websites and stores.
  { text: 'You may embed the font on your website with @font-face.', expect: { website: 'yes', 'online-store': 'yes' } },
  { text: 'Web embedding is not included in this license.', expect: { website: 'no', 'online-store': 'no' } },
  {
    text: 'The webfont license covers up to 10,000 page views per month on one domain.',
    expect: { website: 'yes', 'online-store': 'yes' },
    limits: { website: 10000 },
  },
  { text: 'Use on websites requires a separate license.', expect: { website: 'no', 'online-store': 'no' } },
  { text: 'Webfont use is allowed for 250k page views.', expect: { website: 'yes', 'online-store': 'yes' }, limits: { website: 250000 } },
  { text: 'You must not place the font files on a web server.', expect: { website: 'no', 'online-store': 'no' } },
  { text: 'Self-hosting is permitted if the subscription is active.', expect: { website: 'ask', 'online-store': 'ask' } },
  { text: 'Desktop use only.', expect: { 'design-work': 'yes', website: 'no', 'online-store': 'no', app: 'no', 'design-tool': 'no' } },
  { text: 'E-commerce sites are covered.', expect: { 'online-store': 'yes' } },
  // Computers.
  { text: 'You may install the font on up to 5 computers.', expect: { 'design-work': 'yes' }, limits: { 'design-work': 5 } },
  { text: 'This license covers three users.', expect: {} },
  { text: 'The fonts may be used on one computer at a time.', expect: { 'design-work': 'yes' }, limits: { 'design-work': 1 } },
  { text: 'Desktop installation is allowed for unlimited personal projects.', expect: { 'design-work': 'ask' } },
  // Documents and apps.
  { text: 'You may embed the font in PDF documents.', expect: { documents: 'yes' } },
  { text: 'Embedding in e-books is not permitted.', expect: { documents: 'no' } },
  { text: 'E-books need an additional license.', expect: { documents: 'no' } },
  { text: 'The font may not be embedded in apps or games.', expect: { app: 'no' } },
  { text: 'You can include the font in one mobile app.', expect: { app: 'yes' }, limits: { app: 1 } },
  { text: 'Apps and games: allowed to be shipped with the font inside.', expect: { app: 'yes' } },
  { text: 'Games cannot contain the font unless you buy an app license.', expect: { app: 'no' } },
  // Other people typing, uploading.
  { text: 'Print-on-demand and personalization by customers are not covered.', expect: { 'customers-words': 'no' } },
  { text: 'End users may type with the font on made-to-order goods; this is allowed.', expect: { 'customers-words': 'yes' } },
  { text: 'Customizable products require an extended license.', expect: { 'customers-words': 'no' } },
  { text: 'You may not upload the font to third-party services.', expect: { 'design-tool': 'no' } },
  { text: 'You may upload the font to online design tools for your own work.', expect: { 'design-tool': 'yes' } },
  // Changing and passing on.
  { text: 'You may not modify, alter or convert the font.', expect: { changing: 'no' } },
  { text: 'You may modify the font for your own use.', expect: { changing: 'yes' } },
  { text: 'Modifications are allowed, but you may not redistribute them.', expect: { changing: 'yes', 'passing-on': 'no' } },
  { text: 'You may convert the font to other formats provided the name stays.', expect: { changing: 'ask' } },
  { text: 'Do not redistribute this font.', expect: { 'passing-on': 'no' } },
  { text: 'The font must not be redistributed, resold or shared with others.', expect: { 'passing-on': 'no' } },
  { text: 'You may send the font to your printer.', expect: { 'passing-on': 'yes' } },
  { text: 'You can give a copy to your printer, not to anybody else.', expect: { 'passing-on': 'yes' } },
  { text: 'Feel free to share it with friends, but keep this read me file with it.', expect: { 'passing-on': 'yes' } },
  { text: 'No part of the font may be reverse engineered.', expect: { changing: 'no' } },
  { text: 'Subsetting is permitted.', expect: { changing: 'yes' } },
  // Longer ones.
  {
    text: 'Thank you for downloading! This typeface is free for private use only. You are not allowed to sell it. If you like to use it on products for sale, you need a commercial license.',
    expect: { 'printed-goods': 'no', logo: 'no', 'design-work': 'ask' },
  },
  {
    text: 'With this license you may install the font on 3 computers, use it for logos, printed goods and client work. Web use, apps and e-books are not included.',
    expect: { 'design-work': 'yes', logo: 'yes', 'printed-goods': 'yes', website: 'no', 'online-store': 'no', app: 'no', documents: 'no' },
    limits: { 'design-work': 3 },
  },
  {
    text: 'LICENSE. You can use the font on your website and in your online store. However, you can not put it into an app. Converting to WOFF2 is allowed. Please credit the designer.',
    expect: { website: 'yes', 'online-store': 'yes', app: 'no', changing: 'yes' },
  },
  { text: 'Vielen Dank. Nur für den privaten Gebrauch.', expect: {} },
  { text: 'All rights reserved.', expect: {} },
];
