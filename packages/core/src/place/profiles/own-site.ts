import type { Profile } from '../profile.js';
import { WEBSITE } from './website.js';

const PAGE = {
  id: 'page',
  label: 'A page of the site',
  kind: 'address',
  hint: 'Where visitors see the faces; it loads fonts.css from the folder',
  example: 'https://our-shop.example',
  optional: true,
} as const;

const OWN: Omit<Profile, 'id' | 'name' | 'article' | 'about' | 'connector' | 'settings'> = {
  ...WEBSITE,
  fileAddress: null,
  howTo: [
    'Name fonts.css, which lies beside the folder “fonts”, in the head of your pages.',
    'Allow the file type woff2 on the server, if it asks which types it may serve.',
    'Name the family in your own rules, or use var(--headings) and var(--text).',
    'Open a page and reload it without the browser’s store of old files.',
    'Look at the headings, on a phone as well.',
  ],
};

/** The folder of a website at a host, by SFTP. */
export const WEBSITE_SFTP: Profile = {
  ...OWN,
  id: 'website-sftp',
  name: 'Website by SFTP',
  article: 'a website by SFTP',
  about: 'The folder of a website at a host; fonts and a style sheet are put into it',
  connector: 'sftp',
  settings: [
    {
      id: 'address',
      label: 'Host and folder',
      kind: 'server',
      hint: 'The folder that holds the site',
      example: 'sftp://host.example/var/www/shop',
    },
    { id: 'user', label: 'Account', kind: 'word', hint: '', example: 'shop' },
    { id: 'key', label: 'Password or private key', kind: 'lines', hint: 'Kept sealed and never shown again', example: '' },
    {
      id: 'hostKey',
      label: 'Host key',
      kind: 'word',
      hint: 'SHA256:…; left empty, the first try tells it',
      example: 'SHA256:',
      optional: true,
    },
    PAGE,
  ],
};

/** The folder of a website, by WebDAV. */
export const WEBSITE_WEBDAV: Profile = {
  ...OWN,
  id: 'website-webdav',
  name: 'Website by WebDAV',
  article: 'a website by WebDAV',
  about: 'The folder of a website that is open by WebDAV; fonts and a style sheet are put into it',
  connector: 'webdav',
  settings: [
    { id: 'address', label: 'Address of the folder', kind: 'address', hint: '', example: 'https://dav.our-shop.example/site' },
    { id: 'user', label: 'Account', kind: 'word', hint: '', example: 'shop' },
    { id: 'key', label: 'Password', kind: 'secret', hint: 'Kept sealed and never shown again', example: '' },
    PAGE,
  ],
};
