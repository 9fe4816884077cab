'use client';

import Box from '@mui/material/Box';
import Button from '@mui/material/Button';
import Table from '@mui/material/Table';
import TableBody from '@mui/material/TableBody';
import TableCell from '@mui/material/TableCell';
import TableHead from '@mui/material/TableHead';
import TableRow from '@mui/material/TableRow';
import Typography from '@mui/material/Typography';
import { useEffect, useRef } from 'react';
import { layoutOf, type Song } from '@/core/model';
import { tracksStruck } from '@/core/tracks';
import { CHANNEL_CHOICES } from '@/look/channelChoices';
import { ChoiceField } from '@/look/ChoiceField';
import { NumberField } from '@/look/NumberField';
import * as live from '@/state/deliver/live';
import { useWorkbench } from '@/state/store';
import { Check } from './Check';

const NONE = '';

/** The outputs that can be chosen: those of the browser, and one that is always there. */
function useOutputs(): readonly (readonly [id: string, name: string])[] {
  const found = useWorkbench((state) => state.liveOutputs);
  const routes = useWorkbench((state) => state.live.routes);
  const known = new Set([live.SIMULATED, ...found.map(({ id }) => id)]);
  const gone = [...new Set(Object.values(routes).map(({ output }) => output))].filter(
    (id) => !known.has(id),
  );
  return [
    ...found.map(({ id, name }) => [id, name] as const),
    [live.SIMULATED, 'simulated receiver'],
    ...gone.map((id) => [id, 'an output that is not there'] as const),
  ];
}

/** To what is sent while it plays. */
export function LiveChoices({ song }: { song: Song }) {
  const outputs = useOutputs();
  const clocks = useWorkbench((state) => state.live.clocks);
  return (
    <>
      <Typography variant="body2" sx={{ color: 'text.secondary' }}>
        What plays here also goes to instruments: each track to an output of its own, if you like.
      </Typography>
      <Button onClick={() => void live.findOutputs()} sx={{ justifySelf: 'start' }}>
        look for MIDI outputs
      </Button>
      <ChoiceField
        label="all tracks to"
        value={NONE}
        options={[...outputs, [NONE, 'choose …'], ['nowhere', 'nowhere']]}
        onChange={(output) => live.routeAll(song, output === 'nowhere' ? NONE : output)}
      />
      <Box>
        <Box sx={{ fontSize: 13, color: 'text.secondary' }}>start, stop and clock to</Box>
        {outputs.map(([id, name]) => (
          <Check
            key={id}
            label={name}
            checked={clocks.includes(id)}
            onChange={() => live.toggleClock(id)}
          />
        ))}
      </Box>
    </>
  );
}

/** Where each track goes, and what the simulated receiver got. */
export function Live({ song }: { song: Song }) {
  const routes = useWorkbench((state) => state.live.routes);
  const outputs = useOutputs();
  const struck = tracksStruck(song);
  const tracks = layoutOf(song).tracks.filter(({ id }) => struck.has(id));
  return (
    <>
      <Box component="section" aria-label="where tracks go">
        <Typography variant="h2" sx={{ minHeight: 40 }}>
          What goes where
        </Typography>
        <Table size="small" sx={{ '& td, & th': { px: 0.75 } }}>
          <TableHead>
            <TableRow>
              <TableCell>track</TableCell>
              <TableCell>output</TableCell>
              <TableCell>channel</TableCell>
              <TableCell>delay, ms</TableCell>
            </TableRow>
          </TableHead>
          <TableBody>
            {tracks.map(({ id, name }) => {
              const route = routes[id];
              return (
                <TableRow key={id}>
                  <TableCell>{name}</TableCell>
                  <TableCell>
                    <ChoiceField
                      label=""
                      name={`output of ${name}`}
                      width={152}
                      value={route?.output ?? NONE}
                      options={[[NONE, 'none'], ...outputs]}
                      onChange={(output) => live.routeTrack(id, { output })}
                    />
                  </TableCell>
                  <TableCell>
                    {route && (
                      <ChoiceField
                        label=""
                        name={`channel of ${name}`}
                        width={104}
                        value={String(route.channel ?? NONE)}
                        options={[[NONE, 'as struck'], ...CHANNEL_CHOICES]}
                        onChange={(value) =>
                          live.routeTrack(id, {
                            channel: value === NONE ? undefined : Number(value),
                          })
                        }
                      />
                    )}
                  </TableCell>
                  <TableCell>
                    {route && (
                      <NumberField
                        label=""
                        name={`milliseconds that ${name} is sent later`}
                        value={route.offset}
                        min={-live.MAX_OFFSET_MS}
                        max={live.MAX_OFFSET_MS}
                        unit="ms"
                        width={64}
                        onChange={(offset) => live.routeTrack(id, { offset })}
                      />
                    )}
                  </TableCell>
                </TableRow>
              );
            })}
          </TableBody>
        </Table>
      </Box>
      <Receiver />
    </>
  );
}

/** What a receiver got: each message, when it was due and how late it was there. */
function Receiver() {
  const received = useWorkbench((state) => state.received);
  const clock = useWorkbench((state) => state.clockGot);
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    box.current?.scrollTo({ top: box.current.scrollHeight });
  }, [received]);
  const [first] = received;
  return (
    <Box
      component="section"
      aria-label="simulated receiver"
      sx={{ display: 'grid', gridTemplateRows: 'auto minmax(0, 1fr)', gap: 1 }}
    >
      <Box sx={{ display: 'flex', alignItems: 'center', minHeight: 40 }}>
        <Typography variant="h2" sx={{ flex: 1 }}>
          Simulated receiver
        </Typography>
        {clock.pulses > 0 && (
          <Box className="figures" sx={{ fontSize: 13, color: 'text.secondary', mr: 1.5 }}>
            clock: {clock.pulses.toLocaleString('en')} pulses
            {clock.bpm !== undefined && `, ${clock.bpm.toFixed(1)} bpm`}
          </Box>
        )}
        <Button disabled={received.length === 0} onClick={live.forgetReceived}>
          clear
        </Button>
      </Box>
      {received.length === 0 ? (
        <Typography sx={{ color: 'text.secondary' }}>
          An instrument that is not there. Send a track to it, press play, and see here what arrives
          and when.
        </Typography>
      ) : (
        <Box ref={box} tabIndex={0} aria-label="what arrived" sx={{ overflowY: 'auto' }}>
          <Table size="small" stickyHeader sx={{ '& td, & th': { px: 0.75, py: 0.25 } }}>
            <TableHead>
              <TableRow>
                <TableCell align="right">at</TableCell>
                <TableCell>what</TableCell>
                <TableCell align="right">late by</TableCell>
              </TableRow>
            </TableHead>
            <TableBody>
              {received.map(({ data, due, there }, i) => (
                <TableRow
                  key={`${due} ${data.join()} ${i}`}
                  data-due={due}
                  data-bytes={data.join()}
                >
                  <TableCell align="right" className="figures">
                    {((due - first.due) / 1000).toFixed(3)} s
                  </TableCell>
                  <TableCell className="figures">{saidMessage(data)}</TableCell>
                  <TableCell align="right" className="figures">
                    {(there - due).toFixed(1)} ms
                  </TableCell>
                </TableRow>
              ))}
            </TableBody>
          </Table>
        </Box>
      )}
    </Box>
  );
}

/** A message in words: "note 36, velocity 96, channel 10". */
function saidMessage([status, first, second]: readonly number[]): string {
  const channel = `channel ${(status & 15) + 1}`;
  switch (status < 0xf0 ? status & 0xf0 : status) {
    case 0x90:
      return `note ${first}, velocity ${second}, ${channel}`;
    case 0x80:
      return `note ${first} ends, ${channel}`;
    case 0xf2:
      return `position: sixteenth ${first + 128 * second}`;
    case 0xfa:
      return 'start';
    case 0xfb:
      return 'go on';
    case 0xfc:
      return 'stop';
    default:
      return `${status.toString(16)} ${first ?? ''} ${second ?? ''}`;
  }
}
