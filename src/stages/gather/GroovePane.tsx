'use client';

import { PATTERN_KINDS, pieceOf, type PieceId } from '@/core/model';
import StarIcon from '@mui/icons-material/Star';
import StarBorderIcon from '@mui/icons-material/StarBorder';
import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import IconButton from '@mui/material/IconButton';
import TextField from '@mui/material/TextField';
import Tooltip from '@mui/material/Tooltip';
import Typography from '@mui/material/Typography';
import { memo, useDeferredValue, useMemo, useState } from 'react';
import type { Pattern } from '@/core';
import { fitOfPattern, saidFit } from '@/core/guide';
import { type Groove, GROUPS, type Group } from '@/core/library';
import { NOTE_MAPS } from '@/core/midi';
import { namedGroove } from '@/state/gather/listing';
import { openNoteMap } from '@/state/gather/noteMaps';
import { meterName, saidBars } from '@/core/time';
import { useDraft } from '@/look/useDraft';
import { barsOf } from '@/core/pattern';
import { ChoiceField, plainOptions } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import { keyOf } from '@/state/acts';
import { openDialog } from '@/state/dialogs/dialogs';
import * as gather from '@/state/gather/gather';
import { draftLikeChosen, moreLikeChosen } from '@/state/gather/drafted';
import * as keeping from '@/state/gather/keeping';
import {
  askToChange,
  FAMILY_FORMS,
  isOwnPattern,
  saveFamily,
  takeOutOfLibrary,
} from '@/state/gather/ownLibrary';
import { useGather } from '@/state/gather/gather';
import { useWorkbench } from '@/state/store';
import { auditionRegion } from '@/state/transport/transport';
import { FamilyChart } from './FamilyChart';
import { FitMarks } from './FitMarks';
import { Strands } from './Strands';

/** What of a choice is drawn. */
interface Shown {
  groove: Groove | undefined;
  parts: readonly Pattern[];
  part: number;
  /** Whether the hits have come. */
  come: boolean;
}

/** The chosen groove strand by strand, and what becomes of it. */
export function GroovePane() {
  const chosen = useGather((state) => state.chosen);
  const grooves = useGather((state) => state.grooves);
  const remarks = useGather((state) => state.remarks);
  const parts = useGather((state) => state.parts);
  const part = useGather((state) => state.part);
  const partsOf = useGather((state) => state.partsOf);
  const shown = useMemo<Shown>(() => {
    const row = grooves.find(({ id }) => id === chosen);
    const groove = row && namedGroove(row, remarks.get(row.id));
    return { groove, parts, part, come: partsOf === chosen };
  }, [grooves, remarks, chosen, parts, part, partsOf]);
  // The sound comes first, then the list; the pane follows both, and is passed over by a quick hand.
  return <PaneOf shown={useDeferredValue(shown)} />;
}

const PaneOf = memo(function PaneOf({ shown }: { shown: Shown }) {
  const { groove, parts, part, come } = shown;
  if (!groove) {
    return (
      <Box sx={{ p: 2, display: 'grid', gap: 1.5, color: 'text.secondary' }}>
        <Typography variant="h3" sx={{ color: 'text.primary' }}>
          Hear a groove
        </Typography>
        Press one in the list, or go through it with the arrow keys: each is heard at once, in place
        of the drums of the section that is looped.
        <Button variant="contained" onClick={() => gather.goToGroove(1)}>
          hear the first one
        </Button>
      </Box>
    );
  }
  const pattern = come ? parts[part] : undefined;
  return (
    <Box sx={{ p: 1.5, display: 'flex', flexDirection: 'column', gap: 1 }}>
      <NameField key={groove.id} groove={groove} />
      <Box sx={{ fontSize: 12, color: 'text.secondary' }}>{saidOf(groove)}</Box>
      <About family={groove.family} />
      <Decide groove={groove} />
      {pattern && parts.length > 1 && (
        <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) auto', gap: 0.75 }}>
          <ChoiceField
            label={`parts of this file (${parts.length})`}
            value={String(part)}
            options={parts.map(({ name }, i) => [String(i), name] as const)}
            onChange={(value) => gather.choosePart(Number(value))}
          />
          <Press id="keep-parts" run={keeping.keepParts}>
            keep all
          </Press>
        </Box>
      )}
      {pattern ? (
        <>
          <Strands pattern={pattern} />
          <CutBars pattern={pattern} />
        </>
      ) : (
        come && <Typography variant="body2">Its hits could not be read.</Typography>
      )}
      {groove.id.startsWith('own/') && !isOwnPattern(groove.id) && <ReadThrough groove={groove} />}
      {isOwnPattern(groove.id) && <OwnPattern />}
      {pattern && <Fits pattern={pattern} />}
      <LikeThis />
      <FamilyChart groove={groove} />
      <NoteField key={`note ${groove.id}`} groove={groove} />
      <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
        {FAMILY_FORMS.map((form) => (
          <Button key={form} size="small" onClick={() => void saveFamily(form)}>
            family as {form}
          </Button>
        ))}
      </Box>
    </Box>
  );
});

/** Which bars of it are heard, kept and taken, by number. */
function CutBars({ pattern }: { pattern: Pattern }) {
  const bars = useGather((state) => state.bars);
  const count = Math.round(barsOf(pattern));
  if (count < 2) return null;
  const { from, to } = bars ?? { from: 0, to: count };
  const cut = (first: number, last: number) => {
    const whole = first === 1 && last === count;
    gather.chooseBars(whole ? undefined : { from: first - 1, to: Math.max(first, last) });
  };
  const field = { min: 1, max: count, integer: true, width: 76 };
  return (
    <Box sx={{ display: 'flex', gap: 0.75, alignItems: 'center', fontSize: 12 }}>
      <NumberField
        {...field}
        label="first bar"
        value={from + 1}
        onChange={(first) => cut(first, to)}
      />
      <NumberField
        {...field}
        label="last bar"
        value={to}
        onChange={(last) => cut(Math.min(from + 1, last), last)}
      />
      of {count}
      {bars && (
        <Button size="small" onClick={() => gather.chooseBars(undefined)}>
          all of it
        </Button>
      )}
    </Box>
  );
}

/** The note map that one's own file is read through; pressed, it is looked at and chosen. */
function ReadThrough({ groove: { through } }: { groove: Groove }) {
  const name = NOTE_MAPS.find(({ id }) => id === (through?.map ?? 'gm'))!.name;
  return (
    <Tooltip title={keyOf('note-map')}>
      <Button size="small" variant="text" sx={{ px: 0.5 }} onClick={() => void openNoteMap()}>
        notes read as {name}
        {through?.changes && ', with changes'}
        {through?.channel !== undefined && `, channel ${through.channel + 1}`}
      </Button>
    </Tooltip>
  );
}

function saidOf(groove: Groove): string {
  const { meter, bars, bpm, hits, perBeat, busyness, swing, push, ppq } = groove;
  const late = (Object.entries(push) as [PieceId, number][])
    .filter(([, ms]) => Math.abs(ms) >= 2)
    .map(
      ([id, ms]) =>
        `${pieceOf(id).name.toLowerCase()} ${Math.abs(Math.round(ms))} ms ${ms > 0 ? 'late' : 'early'}`,
    );
  return [
    meterName(meter),
    saidBars(bars),
    `${Math.round(bpm)} bpm`,
    `${hits} hits, ${perBeat} a beat`,
    `complexity ${Math.round(busyness)}`,
    swing > 51 ? `swing ${Math.round(swing)} %` : 'straight',
    ...late,
    ...(ppq ? [`${ppq} ticks a beat`] : []),
  ].join(' · ');
}

/** What can be done with a pattern that was put into the library. */
function OwnPattern() {
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
      <Press id="change-in-library" run={() => askToChange()}>
        change …
      </Press>
      <Press id="out-of-library" run={() => void takeOutOfLibrary()}>
        take it out
      </Press>
    </Box>
  );
}

/** What its family is heard as and used for. */
function About({ family }: { family: string }) {
  const about = useGather((state) => state.families.get(family));
  return about ? <Box sx={{ fontSize: 12, textWrap: 'pretty' }}>{about}</Box> : null;
}

function NameField({ groove }: { groove: Groove }) {
  const { field } = useDraft(
    groove.name,
    (text) => {
      const name = text.trim();
      if (name) keeping.remark({ name }, groove.id);
    },
    backToTheList,
  );
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: 'minmax(0, 1fr) 92px', gap: 1 }}>
      <TextField
        label={`name (${keyOf('rename-groove')})`}
        {...field}
        slotProps={{ htmlInput: { 'aria-label': 'name of the groove', autoComplete: 'off' } }}
      />
      <ChoiceField
        label="kind"
        value={groove.kind}
        options={plainOptions(PATTERN_KINDS)}
        onChange={(kind) => keeping.remark({ kind: kind as Groove['kind'] }, groove.id)}
      />
    </Box>
  );
}

function NoteField({ groove }: { groove: Groove }) {
  const before = useGather((state) => state.remarks.get(groove.id)?.note ?? '');
  const { field } = useDraft(
    before,
    (text) => keeping.remark({ note: text.trim() }, groove.id),
    backToTheList,
  );
  return (
    <TextField
      label={`note (${keyOf('note-groove')})`}
      {...field}
      placeholder="no snare: use as the drop"
      slotProps={{ htmlInput: { 'aria-label': 'note on the groove', autoComplete: 'off' } }}
    />
  );
}

/** Enter goes on to the next groove, and both keys go back to the list. */
function backToTheList(by: 'Enter' | 'Escape'): void {
  if (by === 'Enter') gather.goToGroove(1);
  document.querySelector<HTMLElement>('[role=listbox][aria-label=grooves]')?.focus();
}

function Decide({ groove }: { groove: Groove }) {
  const stars = useGather((state) => state.remarks.get(groove.id)?.stars ?? 0);
  const kept = useWorkbench((state) => gather.isKept(state.history!.song, groove.id));
  const heard = useWorkbench((state) => state.audition !== undefined);
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 0.75 }}>
      <Press id="keep" run={() => void keeping.keepChosen()} contained>
        {kept ? 'kept: next' : 'keep'}
      </Press>
      <Press id="pass" run={keeping.passChosen}>
        reject
      </Press>
      <Press id="take" run={() => openDialog('take')}>
        copy parts …
      </Press>
      <Press id="without" run={gather.hearWithout}>
        {heard ? 'compare with before' : 'hear it again'}
      </Press>
      <Press id="keep-family" run={() => void keeping.keepFamily()}>
        keep the family
      </Press>
      <Box role="group" aria-label="stars" sx={{ display: 'flex', alignItems: 'center' }}>
        {[1, 2, 3, 4, 5].map((n) => (
          <Tooltip key={n} title={keyOf(`stars-${n}`)}>
            <IconButton
              size="small"
              sx={{ p: 0.25 }}
              aria-label={n === 1 ? '1 star' : `${n} stars`}
              aria-pressed={stars >= n}
              onClick={() => keeping.remark({ stars: stars === n ? 0 : n })}
            >
              {stars >= n ? <StarIcon fontSize="small" /> : <StarBorderIcon fontSize="small" />}
            </IconButton>
          </Tooltip>
        ))}
      </Box>
    </Box>
  );
}

function Press(props: {
  id: string;
  run: () => void;
  contained?: boolean;
  children: React.ReactNode;
}) {
  const { id, run, contained, children } = props;
  return (
    <Tooltip title={keyOf(id)}>
      <Button variant={contained ? 'contained' : undefined} onClick={run} sx={{ px: 0.5 }}>
        {children}
      </Button>
    </Tooltip>
  );
}

/** How the groove lands with the guide in the stretch that is heard, in words and drawn. */
function Fits({ pattern }: { pattern: Pattern }) {
  const song = useWorkbench((state) => state.history!.song);
  const loop = useWorkbench((state) => state.songLoop);
  const placeId = useWorkbench((state) => state.placeId);
  const region = useMemo(
    () => auditionRegion(useWorkbench.getState()),
    // eslint-disable-next-line react-hooks/exhaustive-deps
    [song, loop, placeId],
  );
  const fitBy = useGather((state) => state.fitBy);
  const fit = useMemo(
    () => region && fitOfPattern(song, pattern, region, fitBy),
    [song, pattern, region, fitBy],
  );
  if (!song.guides?.length) {
    return (
      <Button size="small" onClick={() => openDialog('guides')}>
        add a bass line to play against
      </Button>
    );
  }
  if (!fit || !region) return null;
  return (
    <Box>
      <Box sx={{ display: 'flex', fontSize: 12, gap: 1 }}>
        <Box sx={{ flex: 1, color: 'text.secondary' }}>{saidFit(fit)}</Box>
        <Box className="figures" sx={{ fontWeight: 600 }}>
          {fit.score}
        </Box>
      </Box>
      <FitMarks marks={fit.marks} length={region.to - region.from} />
      <Tooltip title={keyOf('fit-by')}>
        <Button size="small" variant="text" sx={{ px: 0.5 }} onClick={gather.toggleFitBy}>
          {fitBy === 'kick' ? 'by its kick alone' : 'by its kick and accents'}
        </Button>
      </Tooltip>
    </Box>
  );
}

function LikeThis() {
  const like = useGather((state) => state.like);
  const [group, setGroup] = useState<Group | 'all'>('all');
  return (
    <Box sx={{ display: 'grid', gridTemplateColumns: '1fr 1fr', gap: 1 }}>
      <Tooltip title={keyOf('like-this')}>
        <Button
          aria-pressed={like !== undefined}
          onClick={() => gather.likeThis(group === 'all' ? [] : [group])}
        >
          like this one
        </Button>
      </Tooltip>
      <ChoiceField
        label="compare"
        value={group}
        options={[['all', 'all of it'], ...GROUPS.map((name) => [name, `${name} only`] as const)]}
        onChange={(value) => setGroup(value as Group | 'all')}
      />
      <Tooltip title={keyOf('more-like')}>
        <Button onClick={moreLikeChosen}>eight more like it</Button>
      </Tooltip>
      <Tooltip title={keyOf('draft-like')}>
        <Button onClick={draftLikeChosen}>draft the song so</Button>
      </Tooltip>
    </Box>
  );
}
