import { useDraggable } from '@dnd-kit/core';
import { useEffect, useRef } from 'react';
import type { Pattern, Strand } from '@/core';
import { articulationOf, pieceOf, spokenPiece, type PieceId } from '@/core/model';
import { barTicks, pulseTicks } from '@/core/time';
import { gripOf } from '@/look/grip';
import { useTokens } from '@/look/LookProvider';
import { PieceSign } from '@/look/Notehead';
import { togglePiece, useGather } from '@/state/gather/gather';
import { carryStrand } from '@/state/gather/carrying';
import { BarStrip, LONG_BARS, useBarChoice } from './BarStrip';
import styles from './Gather.module.css';

/** A groove strand by strand. Press a name to hear only that; drag it onto the song or the shelf. */
export function Strands({ pattern }: { pattern: Pattern }) {
  const pieces = useGather((state) => state.pieces);
  const bars = useGather((state) => state.bars);
  const count = Math.round(pattern.length / barTicks(pattern.meter));
  const choice = useBarChoice(count);
  const strands = pattern.strands.filter(({ hits }) => hits.length > 0);
  const some = strands.some(({ piece }) => pieces.includes(piece));
  const lacking = pieces.map((piece) => spokenPiece(piece)).join(' and ');
  return (
    <div role="group" aria-label="strands of the groove" style={{ display: 'grid', gap: 2 }}>
      {strands.map((strand) => {
        const on = pieces.includes(strand.piece);
        return (
          <div key={strand.piece} className={styles.strand}>
            <StrandName piece={strand.piece} on={on} />
            <div
              className={styles.picture}
              title={count > 1 ? 'drag to cut bars out; press twice for all of it' : undefined}
              {...choice}
            >
              <StrandCanvas pattern={pattern} strand={strand} pale={some && !on} />
              {bars && (
                <div
                  className={styles.cut}
                  style={{
                    left: `${(bars.from / count) * 100}%`,
                    width: `${((bars.to - bars.from) / count) * 100}%`,
                  }}
                />
              )}
            </div>
          </div>
        );
      })}
      {pieces.length > 0 && !some && (
        <div role="note" style={{ fontSize: 13 }}>
          It has no {lacking}: all of it is heard. The next groove that has it is heard so again.
        </div>
      )}
      {count >= LONG_BARS && <BarStrip count={count} />}
    </div>
  );
}

function StrandName({ piece, on }: { piece: PieceId; on: boolean }) {
  const { name, articulations } = pieceOf(piece);
  const { setNodeRef, listeners } = useDraggable({
    id: `strand ${piece}`,
    data: { carry: () => carryStrand(piece) },
  });
  return (
    <button
      ref={setNodeRef}
      type="button"
      className={styles.piece}
      aria-pressed={on}
      aria-label={`only ${name}`}
      title={`press: hear only ${name.toLowerCase()} of it; drag: take it somewhere`}
      {...gripOf(listeners)}
      onClick={() => togglePiece(piece)}
    >
      <PieceSign head={articulations[0].head} size={12} />
      {name}
    </button>
  );
}

const HEIGHT = 22;

function StrandCanvas(props: { pattern: Pattern; strand: Strand; pale: boolean }) {
  const { pattern, strand, pale } = props;
  const canvas = useRef<HTMLCanvasElement>(null);
  const tokens = useTokens();
  useEffect(() => {
    const element = canvas.current;
    const ink = element?.getContext('2d');
    if (!element || !ink) return;
    const density = window.devicePixelRatio || 1;
    const width = element.clientWidth;
    element.width = width * density;
    element.height = HEIGHT * density;
    ink.setTransform(density, 0, 0, density, 0, 0);
    ink.fillStyle = tokens.paper;
    ink.fillRect(0, 0, width, HEIGHT);
    const x = (tick: number) => 3 + (tick / pattern.length) * (width - 4);
    const [bar, beat] = [barTicks(pattern.meter), pulseTicks(pattern.meter)];
    for (let at = 0; at < pattern.length; at += beat) {
      ink.fillStyle = at % bar === 0 ? tokens.line : tokens.fineLine;
      ink.fillRect(Math.round(x(at)), 0, 1, HEIGHT);
    }
    ink.globalAlpha = pale ? 0.3 : 1;
    ink.fillStyle = tokens.ink;
    for (const hit of strand.hits) {
      const stem = Math.max(3, (hit.velocity / 127) * (HEIGHT - 6));
      const left = x(hit.at + hit.push);
      ink.fillRect(left, HEIGHT - stem, 1.5, stem);
      const { head } = articulationOf(strand.piece, hit.articulation);
      ink.beginPath();
      if (head === 'dot') ink.arc(left + 0.75, HEIGHT - stem, 2.2, 0, 7);
      else ink.rect(left - 1.5, HEIGHT - stem - 1.5, 4.5, 3);
      ink.fill();
    }
    ink.globalAlpha = 1;
  }, [pattern, strand, pale, tokens]);
  return <canvas ref={canvas} style={{ height: HEIGHT }} aria-hidden />;
}
