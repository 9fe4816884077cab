/** Storage for tests of the state: it takes everything and keeps nothing. */
export const saveSong = jest.fn(async () => {});
