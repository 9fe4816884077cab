'use client';

import { pushInMs, pushOfMs } from '@/core/time';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Slider from '@mui/material/Slider';
import ToggleButton from '@mui/material/ToggleButton';
import ToggleButtonGroup from '@mui/material/ToggleButtonGroup';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { memo, useRef, useState } from 'react';
import type { Command, Pattern } from '@/core';
import { whyHit } from '@/core/draft';
import { articulationOf, pieceOf } from '@/core/model';
import { spokenPush, spokenStep, type Selected, chosenHits } from '@/core/pattern';
import { WaysIn } from '@/look/WaysIn';
import { keyOf } from '@/state/acts';
import { BEGINNINGS, isEmptySong } from '@/state/session/beginnings';
import { commitGesture, edit, preview } from '@/state/session/edit';
import * as clips from '@/state/shape/clips';
import * as frame from '@/state/shape/frame';
import * as shape from '@/state/shape/shape';
import { runOffered } from '@/state/shape/toolbox';
import { kitOf, useWorkbench } from '@/state/store';
import type { Menu } from '@/core/commands';
import { bpmAt } from '@/core/weave';
import { MenuRows } from './Menus';
import { ToolPanel } from './ToolPanel';
import { Turns } from './Turns';

/** What is spelled out while hits are selected, and while none are. */
const OF_SELECTION: readonly Menu[] = ['velocity', 'timing', 'voice', 'ornaments', 'time'];
const OF_COMING: readonly Menu[] = ['select', 'row'];

interface InspectorProps {
  pattern: Pattern;
  selected?: Selected;
}

/** What is selected and its values; or, with nothing selected, how the next hits are struck. */
export const Inspector = memo(function Inspector({ pattern, selected }: InspectorProps) {
  const tool = useWorkbench((state) => state.tool);
  const turn = useWorkbench((state) => state.turn);
  return (
    <Box
      component="aside"
      aria-label="values"
      sx={{
        bgcolor: 'var(--panel)',
        borderLeft: '1px solid var(--line)',
        p: 1.5,
        display: 'flex',
        flexDirection: 'column',
        gap: 1.25,
        overflowY: 'auto',
      }}
    >
      {tool ? (
        <ToolPanel open={tool} />
      ) : selected ? (
        <OfSelection pattern={pattern} selected={selected} />
      ) : turn?.pattern === pattern.id ? (
        <Turns pattern={pattern} />
      ) : (
        <OfComing pattern={pattern} />
      )}
      <Box sx={{ borderTop: '1px solid var(--line)', pt: 1.25 }}>
        <MenuRows spelled={tool ? [] : selected ? OF_SELECTION : OF_COMING} />
      </Box>
    </Box>
  );
});

function OfSelection({ pattern, selected }: { pattern: Pattern; selected: Selected }) {
  const ids = useWorkbench((state) => state.selection);
  const bpm = useWorkbench((state) => bpmAt(state.history!.song, 0));
  const { count, pieces, velocity, push, steps } = selected;
  const kit = useWorkbench(kitOf);
  const chosen = chosenHits(pattern, new Set(ids));
  const one = pieces.length === 1 ? pieces[0] : undefined;
  const ways = new Set(chosen.map(({ hit }) => hit.articulation));
  const live = (commands: Command[], label: string) => preview(commands, label);
  const inMs = (ticks: number) => Math.round(pushInMs(ticks, bpm));
  const [early, late] = push.map(inMs);
  // A stroke of a draft says why it is there.
  const why = pattern.drafted && ids.length === 1 ? whyHit(pattern.drafted, ids[0]) : undefined;
  return (
    <>
      <Box>
        <Typography variant="h3">
          {one ? pieceOf(one, kit).name : `${pieces.length} pieces`}, {count}{' '}
          {count === 1 ? 'hit' : 'hits'}
        </Typography>
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          {spokenStep(pattern, steps[0])}
          {steps[0] !== steps[1] && ` to ${spokenStep(pattern, steps[1])}`}
        </Typography>
        {why && (
          <Typography variant="body2" sx={{ mt: 0.5 }} aria-label="why">
            {why}
          </Typography>
        )}
      </Box>
      <Value
        key={`velocity ${ids.join()}`}
        label="velocity"
        text={velocity[0] === velocity[1] ? `${velocity[0]}` : `${velocity[0]} to ${velocity[1]}`}
        value={Math.round((velocity[0] + velocity[1]) / 2)}
        min={1}
        max={127}
        onPreview={(value, from) =>
          live(
            [{ type: 'add velocity', pattern: pattern.id, ids, by: value - from }],
            'change velocity',
          )
        }
      />
      <Value
        key={`push ${ids.join()}`}
        label="timing offset"
        text={
          push[0] === push[1] ? spokenPush(push[0], bpm) || 'on the grid' : `${early} to ${late} ms`
        }
        value={Math.round((early + late) / 2)}
        min={-60}
        max={60}
        onPreview={(ms) =>
          live(
            [{ type: 'timing offset', pattern: pattern.id, ids, push: pushOfMs(ms, bpm) }],
            'push or lay back',
          )
        }
      />
      {one && pieceOf(one, kit).articulations.length > 1 && (
        <Ways
          piece={one}
          value={ways.size === 1 ? [...ways][0] : null}
          onChange={(articulation) =>
            edit({ type: 'set articulation', pattern: pattern.id, ids, articulation })
          }
        />
      )}
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        <Act id="copy" name="copy" run={clips.copyChosen} />
        <Act id="paste" name="paste" run={() => clips.paste()} />
        <Act id="duplicate" name="duplicate" run={clips.duplicateChosen} />
        <Act id="delete" name="remove" run={shape.removeChosen} />
      </Box>
    </>
  );
}

/** How an empty song begins. */
function Begin() {
  return (
    <>
      <Box>
        <Typography variant="h3">Begin</Typography>
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          Press in the grid, or take one of these ways. Each can be undone.
        </Typography>
      </Box>
      <WaysIn ways={BEGINNINGS} columns={1} />
    </>
  );
}

function OfComing({ pattern }: { pattern: Pattern }) {
  const cursor = useWorkbench((state) => state.cursor);
  const strength = useWorkbench((state) => state.strength);
  const articulations = useWorkbench((state) => state.articulations);
  const strand = pattern.strands.find(({ piece }) => piece === cursor.piece);
  const clip = useWorkbench((state) => state.clip);
  const kit = useWorkbench(kitOf);
  const empty = useWorkbench(({ history }) => isEmptySong(history!.song));
  if (!strand) {
    return <Typography variant="body2">Press in a row to place a hit there.</Typography>;
  }
  const piece = pieceOf(strand.piece, kit);
  return (
    <>
      {empty && <Begin />}
      <Box>
        <Typography variant="h3">{piece.name}</Typography>
        <Typography variant="body2" sx={{ color: 'text.secondary' }}>
          {spokenStep(pattern, cursor.at)}
          <br />
          {strand.hits.length === 1 ? '1 hit' : `${strand.hits.length} hits`} in this row
        </Typography>
      </Box>
      {piece.articulations.length > 1 && (
        <Ways
          piece={piece.id}
          value={articulationOf(piece.id, articulations[piece.id] ?? '', kit).id}
          title="stroke of new hits"
          onChange={(articulation) => shape.placeWith(piece.id, articulation)}
        />
      )}
      <Value
        label="velocity of new hits"
        text={`${strength}`}
        value={strength}
        min={1}
        max={127}
        onPreview={(value) => useWorkbench.setState({ strength: value })}
      />
      <Box sx={{ display: 'grid', gap: 0.75 }}>
        <Act
          id="select the row"
          name="select the row"
          run={() => runOffered('select the row')}
          disabled={strand.hits.length === 0}
        />
        <Act id="paste" name="paste at the cursor" run={() => clips.paste()} disabled={!clip} />
        <Act id="remove-strand" name="take the row out" run={() => frame.removeStrand()} />
      </Box>
      <Typography variant="body2" sx={{ color: 'text.secondary' }}>
        Arrows walk, 1 to 9 strike, Enter places or removes. Select hits, and what can be done with
        them stands here.
      </Typography>
    </>
  );
}

/** Presses of a key within this time are one run, in ms. */
const RUN_MS = 1200;

/** A named slider with its value in words; what it changes is seen and heard while it moves. */
function Value(props: {
  label: string;
  text: string;
  value: number;
  min: number;
  max: number;
  onPreview: (value: number, from: number) => void;
}) {
  const { label, text, value, min, max, onPreview } = props;
  const [drag, setDrag] = useState<{ from: number; now: number }>();
  const run = useRef<ReturnType<typeof setTimeout>>(undefined);
  const end = () => {
    clearTimeout(run.current);
    run.current = undefined;
    setDrag(undefined);
    commitGesture();
  };
  return (
    <Box>
      <Box sx={{ display: 'flex', fontSize: 12 }}>
        <Box sx={{ flex: 1, color: 'text.secondary' }}>{label}</Box>
        <Box className="figures" sx={{ fontWeight: 600 }}>
          {text}
        </Box>
      </Box>
      <Slider
        aria-label={label}
        value={drag?.now ?? value}
        min={min}
        max={max}
        onChange={(_, next) => {
          const from = drag?.from ?? value;
          setDrag({ from, now: next as number });
          onPreview(next as number, from);
        }}
        onChangeCommitted={(event) => {
          // A run of key presses is one step of undo, as a drag is.
          clearTimeout(run.current);
          if (event.type === 'keydown' || event.type === 'change') {
            run.current = setTimeout(end, RUN_MS);
          } else end();
        }}
        onBlur={() => run.current !== undefined && end()}
        // Undo takes back the run, not what was before it.
        onKeyDown={({ ctrlKey, metaKey }) => (ctrlKey || metaKey) && run.current && end()}
        sx={{ py: 0.75 }}
      />
    </Box>
  );
}

function Ways(props: {
  piece: string;
  value: string | null;
  title?: string;
  onChange: (articulation: string) => void;
}) {
  const { piece, value, title = 'articulation', onChange } = props;
  const kit = useWorkbench(kitOf);
  return (
    <Box>
      <Box sx={{ fontSize: 12, color: 'text.secondary', mb: 0.5 }}>
        {title} <span className="figures">({keyOf('next-articulation')})</span>
      </Box>
      <ToggleButtonGroup
        exclusive
        value={value}
        aria-label={title}
        onChange={(_, next: string | null) => next && onChange(next)}
        sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.5 }}
      >
        {pieceOf(piece, kit).articulations.map(({ id, name }) => (
          <ToggleButton
            key={id}
            value={id}
            sx={{
              border: '1px solid var(--line) !important',
              m: '0 !important',
              borderRadius: '3px !important',
            }}
          >
            {name}
          </ToggleButton>
        ))}
      </ToggleButtonGroup>
    </Box>
  );
}

function Act(props: { id: string; name: string; run: () => void; disabled?: boolean }) {
  const { id, name, run, disabled } = props;
  return (
    <Tooltip title={keyOf(id)}>
      <span>
        <Button fullWidth size="small" onClick={run} disabled={disabled} sx={{ gap: 1 }}>
          {name}
          <Box
            component="span"
            className="figures"
            aria-hidden
            sx={{ fontSize: 11, color: 'text.secondary' }}
          >
            {keyOf(id)}
          </Box>
        </Button>
      </span>
    </Tooltip>
  );
}
