import type { Camera, CameraState, Finding, Project } from '@arvex/core';
import { sceneEv } from '@arvex/core';

/** Something about a camera that is looked at before it is handed on. */
export interface Checked {
  /** What is so, with its figures. */
  readonly words: string;
  readonly isRight: boolean;
}

interface Told {
  readonly project: Project;
  readonly camera: Camera;
  readonly state: CameraState;
  /** A length as people read it. */
  readonly length: (metres: number) => string;
}

/** What is looked at, in the order of the work, and the findings that say it is not right. */
const CHECKS: readonly {
  readonly words: (told: Told) => string;
  readonly against: readonly Finding['code'][];
}[] = [
  { words: ({ camera }) => `Called ${camera.name}`, against: ['camera-unnamed'] },
  {
    words: ({ state, length }) => `Stands clear, ${length(state.positionM[1])} up`,
    against: ['camera-at-origin', 'camera-inside', 'camera-underground'],
  },
  {
    words: ({ state: { framing } }) => `Framed for ${framing.delivery.widthPx} × ${framing.delivery.heightPx}`,
    against: ['delivery-unset'],
  },
  {
    words: ({ state: { lens, focus } }) =>
      `${trimmed(lens.focalLengthMm)} mm at ƒ${trimmed(focus.fStop)}, as the lens can`,
    against: ['lens-exceeded', 'key-impossible'],
  },
  { words: focusWords, against: ['focus-on-nothing'] },
  { words: ({ state }) => evWords(state), against: ['ev-not-reached', 'exposure-off'] },
  { words: subjectWords, against: ['subject-gone', 'subject-out-of-frame'] },
  { words: () => 'Nothing in the way, nothing cut by the clips', against: ['view-covered', 'clipped'] },
];

/** Everything that is looked at about a camera, right or not. @param findings those about it. */
export function checkedOf(told: Told, findings: readonly Finding[]): readonly Checked[] {
  return CHECKS.map(({ words, against }) => ({
    words: words(told),
    isRight: !findings.some(({ code }) => against.includes(code)),
  }));
}

function focusWords({ project, state: { focus }, length }: Told): string {
  const distance = Number.isFinite(focus.distanceM) ? length(focus.distanceM) : '∞';
  const subject = project.placements[focus.subjectId ?? '']?.name;
  if (focus.drivenBy === 'follow') return `Focus follows ${subject ?? 'its subject'}, ${distance}`;
  return `Focus ${focus.drivenBy === 'auto' ? 'by itself' : 'by hand'}, ${distance}`;
}

function evWords({ exposure }: CameraState): string {
  const ev = `EV ${sceneEv(exposure).toFixed(1)}`;
  return exposure.hold ? `${ev}, held` : ev;
}

function subjectWords({ project, state: { framing } }: Told): string {
  const name = project.placements[framing.subjectId ?? '']?.name;
  return name === undefined ? 'About whoever is in frame' : `About ${name}, who is in frame`;
}

function trimmed(value: number): string {
  return String(Number(value.toFixed(1)));
}
