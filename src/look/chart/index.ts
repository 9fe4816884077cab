/** The pages of a chart, drawn. It is loaded when a chart is looked at, or written. */
export { drawPage, fontUrl, readyToDraw } from './draw';
export { chartFiles } from './files';
