/** Names of files and folders that every system takes, and that tell files apart. */
export { cleanName, fileName, inOne, pathsOf, type Named } from './names';
export { tableOf } from './table';
