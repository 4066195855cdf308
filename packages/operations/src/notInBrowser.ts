/** Stands where operations run, which needs Node: a browser knows what they are and asks a server to run them. */
export const run = (): never => {
  throw new Error('Operations run on the server or from the command line.');
};
