/** Workers for tests of the state: none, and nothing is computed aside. */
export { Ended } from '../guard';
export const makeSoundAside = jest.fn();
export const synthesiseFirst = jest.fn();
export const importAside = jest.fn();
export const findingsAside = jest.fn();
export const onsetsAside = jest.fn();
export const readFontAside = jest.fn();
export const writeAudioAside = jest.fn();
export const zipAside = jest.fn();
export const simulatedReceiver = jest.fn();
export const prepareDrafts = jest.fn();
export const draftAside = jest.fn();
export const neighboursAside = jest.fn();
