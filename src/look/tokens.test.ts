import { DYE_COUNT } from '@/core/model';
import { DYE_NAMES, TOKENS, type Scheme } from './tokens';

/** Relative luminance and contrast. Source: WCAG 2.2, definitions of both terms. */
function luminance(hex: string): number {
  const [r, g, b] = [1, 3, 5]
    .map((at) => parseInt(hex.slice(at, at + 2), 16) / 255)
    .map((c) => (c <= 0.04045 ? c / 12.92 : ((c + 0.055) / 1.055) ** 2.4));
  return 0.2126 * r + 0.7152 * g + 0.0722 * b;
}

function contrast(a: string, b: string): number {
  const [high, low] = [luminance(a), luminance(b)].sort((x, y) => y - x);
  return (high + 0.05) / (low + 0.05);
}

describe.each<Scheme>(['light', 'dark'])('the %s scheme', (scheme) => {
  const tokens = TOKENS[scheme];
  const grounds = [tokens.ground, tokens.panel, tokens.paper, tokens.paperShade];

  test('is legible: text 4.5 to 1 on every ground, dyes 3 to 1 on paper', () => {
    for (const ground of grounds) {
      for (const text of [tokens.ink, tokens.softInk, tokens.accent]) {
        expect(contrast(text, ground)).toBeGreaterThanOrEqual(4.5);
      }
    }
    for (const dye of tokens.dyes) expect(contrast(dye, tokens.paper)).toBeGreaterThanOrEqual(3);
    expect(contrast(tokens.onAccent, tokens.accent)).toBeGreaterThanOrEqual(4.5);
  });

  test('has as many dyes as a song can use, each its own', () => {
    expect(tokens.dyes).toHaveLength(DYE_COUNT);
    expect(new Set(tokens.dyes).size).toBe(DYE_NAMES.length);
  });
});
