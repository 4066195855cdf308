/** What layers of a guide are called, so that they are known again when the file comes back. */
export const GUIDE_PREFIX = 'Guide: ';
