export const MAX_FILE = 100 * 1024 * 1024;
export const MAX_BUNDLE = 500 * 1024 * 1024;
