import { SELECT } from './select';
import { VELOCITY } from './velocity';
import { TIMING, FORGET_FEEL } from './timing';
import { VOICE } from './voice';
import { TIME } from './time';
import { ORNAMENTS } from './ornaments';
import { ROW } from './row';
import { PATTERN } from './pattern';
import type { Tool } from './tool';

export { ToolValues, type Bench, type Field, type Tool } from './tool';

/** Every tool of Shape, by group. */
export const TOOLS: readonly Tool[] = [
  ...SELECT,
  ...VELOCITY,
  ...TIMING,
  FORGET_FEEL,
  ...VOICE,
  ...TIME,
  ...ORNAMENTS,
  ...ROW,
  ...PATTERN,
];

export function findTool(id: string): Tool | undefined {
  return TOOLS.find((tool) => tool.id === id);
}
