/** Drawings of the sample business, made for it: on boards of 24 by 24, lines two units wide. */
const line = (d, more = '') =>
  `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24" fill="none" stroke="#1b1916" stroke-width="2" stroke-linecap="round" stroke-linejoin="round"><path d="${d}"/>${more}</svg>`;
const shape = (body) => `<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 24 24">${body}</svg>`;

/** Files as somebody would have saved them; one is named as programs name copies. */
export const DRAWINGS = [
  [
    'Sun.svg',
    line(
      'M12 1.5v2.5M12 20v2.5M1.5 12H4M20 12h2.500M4.6 4.600l1.8 1.800M17.6 17.600l1.8 1.800M4.6 19.400l1.8-1.800M17.6 6.400l1.8-1.8',
      '<circle cx="12" cy="12" r="4.5"/>',
    ),
  ],
  ['Half Shade.svg', line('M12 3v18', '<circle cx="12" cy="12" r="9"/><path d="M12 3a9 9 0 0 1 0 18z" fill="#1b1916"/>')],
  ['Frost.svg', line('M12 2v20M3.34 7l17.32 10M3.34 17l17.32-10M9.5 3.500L12 6l2.5-2.500M9.5 20.500L12 18l2.5 2.5')],
  ['Water.svg', line('M12 2.500c3.5 4.5 6 7.6 6 11a6 6 0 0 1-12 0c0-3.4 2.5-6.5 6-11z')],
  ['Depth.svg', line('M3 6h18M12 9v11M8.5 16.500L12 20l3.5-3.5')],
  ['Spacing.svg', line('M3 5v14M21 5v14M6.5 12h11M9 9l-3 3 3 3M15 9l3 3-3 3')],
  [
    'Sow under glass.svg',
    line(
      'M4 20v-9a8 8 0 0 1 16 0v9zM12 20v-6M12 15c-2.5 0-3.5-1.5-3.5-3.5 2 0 3.5 1 3.5 3.500zM12 15c2.5 0 3.5-1.5 3.5-3.5-2 0-3.5 1-3.5 3.500z',
    ),
  ],
  [
    'Sow outdoors.svg',
    line('M3 20h18M12 20v-8M12 13c-3.5 0-5.5-2-5.5-5.5 3.5 0 5.5 2 5.5 5.500zM12 11c0-3.5 2-5.5 5.5-5.5 0 3.5-2 5.5-5.5 5.500z'),
  ],
  ['Harvest.svg', line('M4 10h16l-1.5 10h-13zM8 10a4 4 0 0 1 8 0M9 13.500v3M12 13.500v3M15 13.500v3')],
  [
    'Bee friendly.svg',
    line(
      'M12 9v10M8.5 12h7M8.5 15.500h7M12 9C9 9 5 8 5 5.500S9 4 12 9c3-5 7-6 7-3.500S15 9 12 9z',
      '<path d="M12 9a4 5 0 0 1 0 11 4 5 0 0 1 0-11z"/>',
    ),
  ],
  ['Heirloom.svg', line('M12 3l2.7 5.6 6.1.8-4.5 4.3 1.1 6.100L12 16.900l-5.4 2.9 1.1-6.1-4.5-4.3 6.1-.8z')],
  ['Climbs.svg', line('M9 2v20M9 18c6 0 8-2 8-4s-2-3-4-3-8 0-8-3 3-4 8-4')],
  ['Keeps.svg', line('M4 8h16v12H4zM2.5 4h19v4h-19zM9.5 12h5')],
  ['Indoors.svg', line('M3 11l9-8 9 8M5.5 9.500V20h13V9.500M10 20v-6h4v6')],
  ['Perennial.svg', line('M20 12a8 8 0 1 1-2.5-5.800M20 3v4h-4')],
  ['Next.svg', line('M4 12h15M13 6l6 6-6 6')],
  ['Basket (copy 2).svg', line('M3 9h18l-2 11H5zM8 9l3-6M16 9l-3-6')],
  // In two colors, as a designer sent it: told, and cut out where it is light.
  [
    'Berry.svg',
    shape(
      '<circle cx="12" cy="14" r="8" fill="#a8271b"/><path d="M12 6c0-2.5 1.5-4 4-4 0 2.5-1.5 4-4 4z" fill="#2b6a3f"/><circle cx="9" cy="11.5" r="1.5" fill="#fff"/>',
    ),
  ],
].map(([path, text]) => ({ path, text }));

/** What comes a season later. */
export const LATER = [
  ['Moon.svg', line('M20 14.500A8.5 8.5 0 1 1 9.5 4a7 7 0 0 0 10.5 10.500z')],
  ['Water.svg', line('M12 2.500c3.5 4.5 6.5 7.6 6.5 11.200a6.5 6.5 0 0 1-13 0c0-3.6 3-6.7 6.5-11.200zM9 14a3 3 0 0 0 3 3')],
].map(([path, text]) => ({ path, text }));

/** The set of the sample business: released, then added to, with what comes next still open. */
export async function loadIcons(client) {
  const set = await client.call('POST', '/api/icon-sets', { family: 'Hollin Icons', prefix: 'seed-', maker: 'Hollin Bank Seeds' });
  const at = `/api/icon-sets/${set.id}`;
  const { set: filled } = await client.call('POST', `${at}/drawings`, { files: DRAWINGS });
  const idOf = (name) => filled.drawings.find((d) => d.name === name).id;
  const act = (body) => client.call('POST', `${at}/acts`, body);
  await act({ act: 'rename', ids: [idOf('basket-copy-2')], name: 'basket', keepOld: false });
  await act({ act: 'characters', ids: [idOf('next')], characters: [0x2192] });
  await act({ act: 'mirror', ids: [idOf('next')], mirror: true });
  await act({ act: 'words', ids: [idOf('water')], words: ['water'] });
  const { version } = await act({ act: 'words', ids: [idOf('sun')], words: ['sun'] });
  await client.call('POST', `${at}/releases`, { mayRelease: true, version, notes: 'For the packets and the website.' });
  await client.call('POST', `${at}/drawings`, { files: LATER });
  await act({ act: 'rename', ids: [idOf('climbs')], name: 'climbing' });
}
