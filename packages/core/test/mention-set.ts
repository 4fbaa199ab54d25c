/**
 * What font files and the texts beside them say of licenses without holding their words: invented by us, and the wording that
 * the licenses themselves recommend for notices (SPDX License List, GNU "How to apply", SIL for name ID 13). `grants` is the
 * license that a careful reader takes the font to be under; null where the text only names, denies or doubts one.
 * Every second one was put away while the rules were written and looked at once.
 */
export const MENTION_SET: readonly { text: string; grants: string | null; names?: string }[] = [
  { text: 'This font is NOT licensed under the SIL Open Font License 1.1. All rights reserved.', grants: null, names: 'OFL-1.1' },
  {
    text: 'Contrary to what some websites claim, this typeface was never released under the SIL Open Font License, Version 1.1.',
    grants: null,
    names: 'OFL-1.1',
  },
  { text: 'Not CC0. Personal use only.', grants: null, names: 'CC0-1.0' },
  { text: 'Please do not treat this as CC0. It isn’t.', grants: null, names: 'CC0-1.0' },
  { text: 'Free for personal use. Code of the site: MIT License.', grants: null, names: 'MIT' },
  { text: 'Free to try at home. The specimen page is built with tools under the MIT License.', grants: null, names: 'MIT' },
  {
    text: 'This Font Software is licensed under the SIL Open Font License, Version 1.1. This license is available with a FAQ at: https://openfontlicense.org',
    grants: 'OFL-1.1',
  },
  {
    text: 'This Font Software is licensed under the SIL Open Font License, Version 1.1.\nThis license is copied below, and is also available with a FAQ at:\nhttp://scripts.sil.org/OFL',
    grants: 'OFL-1.1',
  },
  {
    text: 'Licensed under the Apache License, Version 2.0 (the "License"); you may not use this file except in compliance with the License. You may obtain a copy of the License at http://www.apache.org/licenses/LICENSE-2.0. Unless required by applicable law or agreed to in writing, software distributed under the License is distributed on an "AS IS" BASIS, WITHOUT WARRANTIES OR CONDITIONS OF ANY KIND, either express or implied. See the License for the specific language governing permissions and limitations under the License.',
    grants: 'Apache-2.0',
  },
  { text: 'The fonts are released under the Apache License, version 2.0', grants: 'Apache-2.0' },
  {
    text: 'This font is free software; you can redistribute it and/or modify it under the terms of the GNU General Public License as published by the Free Software Foundation; either version 2 of the License, or (at your option) any later version. This font is distributed in the hope that it will be useful, but WITHOUT ANY WARRANTY; without even the implied warranty of MERCHANTABILITY or FITNESS FOR A PARTICULAR PURPOSE. See the GNU General Public License for more details. You should have received a copy of the GNU General Public License along with this program; if not, write to the Free Software Foundation, Inc., 51 Franklin Street, Fifth Floor, Boston, MA 02110-1301 USA.',
    grants: 'GPL-2.0-or-later',
  },
  {
    text: 'This program is free software: you can redistribute it and/or modify it under the terms of the GNU General Public License as published by the Free Software Foundation, either version 3 of the License, or (at your option) any later version. This program is distributed in the hope that it will be useful, but WITHOUT ANY WARRANTY; without even the implied warranty of MERCHANTABILITY or FITNESS FOR A PARTICULAR PURPOSE. See the GNU General Public License for more details. You should have received a copy of the GNU General Public License along with this program. If not, see <https://www.gnu.org/licenses/>.',
    grants: 'GPL-3.0-or-later',
  },
  {
    text: 'This font is free software; you can redistribute it and/or modify it under the terms of the GNU General Public License as published by the Free Software Foundation; version 2. As a special exception, if you create a document which uses this font, and embed this font or unaltered portions of this font into the document, this font does not by itself cause the resulting document to be covered by the GNU General Public License. This exception does not however invalidate any other reasons why the document might be covered by the GNU General Public License. If you modify this font, you may extend this exception to your version of the font, but you are not obligated to do so. If you do not wish to do so, delete this exception statement from your version.',
    grants: 'GPL-2.0-only WITH Font-exception-2.0',
  },
  {
    text: 'This library is free software; you can redistribute it and/or modify it under the terms of the GNU Lesser General Public License as published by the Free Software Foundation; either version 2.1 of the License, or (at your option) any later version.',
    grants: null,
    names: 'LGPL-2.1-or-later',
  },
  {
    text: 'Earlier versions were published under the SIL Open Font License 1.1; from 3.0 on you need our desktop license.',
    grants: null,
    names: 'OFL-1.1',
  },
  { text: 'Up to release 2 this face could be had under the GPL version 3. That is over.', grants: null, names: 'GPL-3.0-only' },
  {
    text: 'The font is licensed under the SIL Open Font License 1.1 for students of the school; others ask us for a quote.',
    grants: null,
    names: 'OFL-1.1',
  },
  {
    text: 'Licensed under the SIL Open Font License 1.1. Commercial use needs a separate license from the foundry.',
    grants: null,
    names: 'OFL-1.1',
  },
  { text: 'Only the Regular is under the SIL Open Font License 1.1. All other weights are sold.', grants: null, names: 'OFL-1.1' },
  { text: 'The Regular is available under the SIL OFL 1.1, except its swashes.', grants: null, names: 'OFL-1.1' },
  {
    text: 'These fonts are available under Creative Commons Attribution 4.0 (https://creativecommons.org/licenses/by/4.0/).',
    grants: 'CC-BY-4.0',
  },
  { text: 'This typeface is released under CC BY-SA 4.0.', grants: 'CC-BY-SA-4.0' },
  { text: 'All icons by somebody else, CC BY 4.0. The font is ours.', grants: null, names: 'CC-BY-4.0' },
  { text: 'The photographs in the specimen are shared under CC BY 4.0.', grants: null, names: 'CC-BY-4.0' },
  { text: 'If we reach our goal the family will be released under the SIL Open Font License 1.1.', grants: null, names: 'OFL-1.1' },
  { text: 'We may publish it under the SIL Open Font License 1.1 some day.', grants: null, names: 'OFL-1.1' },
  { text: 'Its license is similar to the MIT License.', grants: null, names: 'MIT' },
  { text: 'A license compatible with the Apache License 2.0 covers the font.', grants: null, names: 'Apache-2.0' },
  { text: 'Released into the world under the MIT License.', grants: 'MIT' },
  { text: 'These fonts are distributed under the MIT license.', grants: 'MIT' },
  { text: 'Is this font licensed under the SIL Open Font License 1.1?', grants: null, names: 'OFL-1.1' },
  { text: 'Whether this is under the OFL 1.1 nobody could tell us.', grants: null, names: 'OFL-1.1' },
  { text: 'Licensed under the SIL Open Font License, Version 1.1. Demo version for testing only.', grants: null, names: 'OFL-1.1' },
  { text: 'SIL Open Font License 1.1. Personal, non-commercial use only!', grants: null, names: 'OFL-1.1' },
  { text: 'Unlike our older faces under the SIL Open Font License 1.1, this one is proprietary.', grants: null, names: 'OFL-1.1' },
  { text: 'This is proprietary software. Parts derive from a face under the SIL Open Font License 1.1.', grants: null, names: 'OFL-1.1' },
  { text: 'This font software is made available under the Ubuntu Font Licence, Version 1.0.', grants: 'Ubuntu-font-1.0' },
  { text: 'The font family is dedicated to the public domain under CC0 1.0.', grants: 'CC0-1.0' },
  { text: 'The glyphs were drawn from a face licensed under the Apache License, Version 2.0.', grants: null, names: 'Apache-2.0' },
  { text: 'Numerals borrowed from a font distributed under the MIT license.', grants: null, names: 'MIT' },
  { text: 'The OFL 1.1 license of this font has been withdrawn.', grants: null, names: 'OFL-1.1' },
  { text: 'This font was licensed under the SIL Open Font License 1.1 until March.', grants: null, names: 'OFL-1.1' },
  {
    text: 'Copyright 2019 The Plot Project Authors. This Font Software is licensed under the SIL Open Font License, Version 1.1.',
    grants: 'OFL-1.1',
  },
  {
    text: 'Copyright (c) 2011, A. Smith (a@b.example), with Reserved Font Name Plot. This Font Software is licensed under the SIL Open Font License, Version 1.1.',
    grants: 'OFL-1.1',
  },
  {
    text: 'The web page is under the SIL Open Font License 1.1 in spirit; the font is © and may be used with a paid license.',
    grants: null,
    names: 'OFL-1.1',
  },
  {
    text: 'You must buy a license. A cut-down version without kerning is available under the SIL Open Font License 1.1.',
    grants: null,
    names: 'OFL-1.1',
  },
  { text: 'Distributed under the terms of the GNU GPL v3.', grants: 'GPL-3.0-only' },
  { text: 'This font is covered by the GNU General Public License, version 2.', grants: 'GPL-2.0-only' },
];
