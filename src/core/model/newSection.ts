import { barTicks, type Ticks } from '../time';
import type { Pattern } from './pattern';
import { SECTION_KINDS, type Section, type SectionKind } from './song';
import type { Span } from './span';

/** A span of a pattern over a whole section. */
export function spanOver(pattern: string, id: string, rest: Partial<Span> = {}): Span {
  return {
    id,
    role: 'groove',
    anchor: 'whole',
    pieces: 'all',
    from: 0,
    to: 0,
    pattern,
    offset: 0,
    mode: 'replace',
    ...rest,
  };
}

/** A span that ends with its section and lasts so long: for a fill. */
export function spanAtEnd(pattern: string, id: string, length: Ticks): Span {
  return spanOver(pattern, id, { role: 'fill', anchor: 'end', from: -length, to: 0 });
}

/** A section of whole bars that plays one pattern from its start to its end. */
export function sectionOf(
  pattern: Pattern,
  options: Pick<Section, 'id' | 'name' | 'kind'> & { bars?: number },
): Section {
  return {
    id: options.id,
    name: options.name,
    kind: options.kind,
    bars: options.bars ?? Math.max(1, Math.ceil(pattern.length / barTicks(pattern.meter))),
    meters: [{ bar: 0, meter: pattern.meter }],
    tempos: [],
    spans: [spanOver(pattern.id, 'span')],
  };
}

/** The kind of section a name speaks of; undefined when it speaks of none. */
export function kindNamed(name: string): SectionKind | undefined {
  const lower = name.toLowerCase();
  const kinds = SECTION_KINDS.filter((kind) => kind !== 'part');
  return kinds.find((kind) => lower.includes(kind));
}

/** What a section that plays this pattern is most likely for. */
export function sectionKindFor({ name, kind }: Pick<Pattern, 'name' | 'kind'>): SectionKind {
  const usual = kind === 'intro' ? 'intro' : kind === 'ending' ? 'outro' : 'part';
  return kindNamed(name) ?? usual;
}

/** A section as it is made when a pattern is put into the song by itself. */
export function newSectionFor(pattern: Pattern, id: string): Section {
  const kind = sectionKindFor(pattern);
  const bars = Math.max(1, Math.ceil(pattern.length / barTicks(pattern.meter)));
  return sectionOf(pattern, {
    id,
    name: kind === 'part' ? pattern.name : kind,
    kind,
    // A pattern of a few bars makes a section of four, as phrases go; a longer one its own.
    bars: Math.max(4, bars),
  });
}
