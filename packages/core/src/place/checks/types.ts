import { formatName, sentFile, type Check } from '../finding.js';
import { settingsOfPlace } from '../remedies/index.js';

/** Whether the place's own list of file types has the file's. Common practice: servers refuse fonts until their type is allowed. */
export const TYPES: Check = {
  id: 'types',
  look(context) {
    const { there, placeName } = context;
    const types = there?.types;
    const sent = sentFile(context);
    if (!types || !sent || types.includes(sent.format)) return [];
    return [
      {
        code: 'type-not-allowed',
        severity: 'stops',
        message: `${placeName} does not serve ${formatName(sent.format)} files yet: its list of allowed file types has ${types.length === 0 ? 'no fonts' : types.map((t) => t.toUpperCase()).join(', ')}. Sites refuse unknown types for safety.`,
        remedies: [
          settingsOfPlace(`Allow ${formatName(sent.format)} there`, 'The settings of the place open; add the type, then check again.'),
        ],
        overridable: false,
      },
    ];
  },
};
