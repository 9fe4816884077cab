/** A name in a line with other things: it is cut where it has no more room, and never makes the line wider. */
export const cutName = (maxWidth: number | string) => ({
  display: 'inline-block',
  maxWidth,
  overflow: 'hidden',
  textOverflow: 'ellipsis',
  whiteSpace: 'nowrap',
  verticalAlign: 'bottom',
});
