import type { Finds } from './finds';
import { isRecord } from './finds';
import { findPiece, type Kit, type PieceId } from './kit';
import { within, type Limits } from './limits';

/** What strikes. */
export const LIMBS = ['left hand', 'right hand', 'left foot', 'right foot'] as const;
export type Limb = (typeof LIMBS)[number];

/** How many strokes a second one limb may be asked for. */
export const MAX_SPEED: Limits = [2, 30];

/** Who is to play the song: what is asked of them is told apart from what no one can play. */
export interface Drummer {
  /** The hand that leads; the kit of a left-handed drummer stands the other way round. */
  lead: 'right' | 'left';
  /** Plays the hats with the hand that is nearer to them, and not across. */
  openHanded?: true;
  /** Plays the kick with both feet. */
  doublePedal?: true;
  /** Plays the hand percussion too; usually someone else does. */
  percussion?: true;
  /** Strokes a second that one hand or foot can play. */
  speed: number;
  /** Which limb always plays a piece, where that is settled. */
  limbs?: Readonly<Record<PieceId, Limb>>;
}

/**
 * A drummer who has practised: single strokes of one hand up to twelve a second. Source: the fastest
 * single-stroke rolls counted at contests are about ten a second and hand.
 */
export const USUAL_DRUMMER: Drummer = { lead: 'right', speed: 12 };

export function drummerOf({ drummer }: { drummer?: Drummer }): Drummer {
  return drummer ?? USUAL_DRUMMER;
}

export function isDrummer(value: unknown, kit: Kit): value is Drummer {
  if (!isRecord(value)) return false;
  const { lead, speed, limbs } = value;
  const marks = [value.openHanded, value.doublePedal, value.percussion];
  return (
    (lead === 'right' || lead === 'left') &&
    marks.every((mark) => mark === undefined || mark === true) &&
    within(speed, MAX_SPEED) &&
    (limbs === undefined ||
      (isRecord(limbs) &&
        Object.entries(limbs).every(
          ([piece, limb]) =>
            findPiece(piece, kit) !== undefined && (LIMBS as readonly unknown[]).includes(limb),
        )))
  );
}

/** @returns undefined where nobody could be meant */
export function salvageDrummer(value: unknown, kit: Kit, finds: Finds): Drummer | undefined {
  const sound = isDrummer(value, kit);
  finds.expect(sound, 'drummer', 'How the drummer plays is not said as it must be.');
  return sound ? value : undefined;
}
