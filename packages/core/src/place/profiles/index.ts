import type { Profile } from '../profile.js';
import { COMPUTER } from './computer.js';
import { DESIGN_TOOL } from './design-tool.js';
import { FOLDER } from './folder.js';
import { WEBSITE_SFTP, WEBSITE_WEBDAV } from './own-site.js';
import { JOINED } from './joined.js';
import { PRINT_SHOP } from './print-shop.js';
import { STORE } from './store.js';
import { WEBSITE } from './website.js';

/** Every kind of place. */
export const PROFILES: readonly Profile[] = [
  WEBSITE,
  WEBSITE_SFTP,
  WEBSITE_WEBDAV,
  STORE,
  DESIGN_TOOL,
  PRINT_SHOP,
  COMPUTER,
  JOINED,
  FOLDER,
];
