'use client';

import { driver, type DriveStep } from 'driver.js';
import 'driver.js/dist/driver.css';
import { useEffect } from 'react';
import { keyOf } from '@/state/acts';
import { endTour, useTour } from '@/state/session/firstSteps';

const FIRST = '[data-cloth] canvas';

/** What a newcomer is shown, in the order of the work. What is not on screen is said without pointing at it. */
const steps = (): DriveStep[] => [
  {
    element: FIRST,
    popover: {
      title: 'The whole song, as cloth',
      description:
        'Bars run across, kit pieces down. Each colour and hatch is a pattern: where you see it again, it plays again. Press a bar to hear it.',
    },
  },
  {
    element: '[aria-label="sections in order"]',
    popover: {
      title: 'Sections',
      description:
        'Press one to choose it. Places of one section are linked: an edit in one is in all of them, unless you say “here only”.',
    },
  },
  {
    element: '[aria-label="shelf"]',
    popover: {
      title: 'The shelf',
      description: `The patterns of this song. Drag one onto a section, or onto one row of it. More come from Gather.`,
    },
  },
  {
    element: '[data-draft-button]',
    popover: {
      title: 'Nothing to start from?',
      description: `Draw the energy of the song and have it drafted (${keyOf('draft')}): ordinary patterns, and every stroke says why it is there.`,
    },
  },
  {
    element: 'nav[aria-label="stages"]',
    popover: {
      title: 'Five stages',
      description:
        'Gather grooves, Shape a pattern, Weave the song, Balance its sounds, Deliver MIDI, audio and paper. The song plays on while you go from one to another.',
    },
  },
  {
    element: '[data-ribbon]',
    popover: {
      title: 'Always there',
      description: `Play (${keyOf('play')}), click to go somewhere, drag to loop. Everything can be undone.`,
    },
  },
  {
    popover: {
      title: 'That is all you need',
      description: `${keyOf('palette')} finds everything by name, ${keyOf('guide')} opens a guide. The sign at the top left leads to the list of songs (${keyOf('go-songs')}); your own begins there with “new song”.`,
    },
  },
];

/** The tour of a first visit: at most seven steps, left at any time, and never shown again by itself. */
export function Tour() {
  const { shown } = useTour();
  useEffect(() => {
    if (!shown) return;
    let tour: ReturnType<typeof driver> | undefined;
    let frame = 0;
    const started = performance.now();
    const begin = () => {
      // The first thing it points at may still be drawn.
      const drawn = document.querySelector(FIRST) !== null;
      if (!drawn && performance.now() - started < 3000)
        return void (frame = requestAnimationFrame(begin));
      tour = tourOf();
      tour.drive();
    };
    begin();
    return () => {
      cancelAnimationFrame(frame);
      tour?.destroy();
    };
  }, [shown]);
  return null;
}

function tourOf() {
  return driver({
    steps: steps().map((step) =>
      typeof step.element === 'string' && !document.querySelector(step.element)
        ? { popover: step.popover }
        : step,
    ),
    showProgress: true,
    progressText: '{{current}} of {{total}}',
    nextBtnText: 'next',
    prevBtnText: 'back',
    doneBtnText: 'begin',
    overlayOpacity: 0.35,
    stagePadding: 4,
    popoverClass: 'tour',
    allowClose: true,
    onPopoverRender: (popover, { driver: open }) => {
      const skip = document.createElement('button');
      skip.textContent = 'skip the tour';
      skip.className = 'tour-skip';
      skip.addEventListener('click', () => open.destroy());
      popover.footerButtons.prepend(skip);
    },
    onDestroyed: endTour,
  });
}
