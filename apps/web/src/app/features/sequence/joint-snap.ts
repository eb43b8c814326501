import { inject, Injectable } from '@angular/core';
import { framesInFlicks, markersInOrder, marksInOrder, moveOf, sceneOfMark, shotFrameAt } from '@arvex/core';
import { remembered } from '../../data';
import { OpenSequence, Playhead } from '../../session';
import * as z from 'zod';

/** How near something catches what is pulled, pixels. */
const CATCH_PX = 8;

/** Frames of the cut that catch what is pulled over them: the playhead, joints, markers, and marks of the cameras that are seen. */
@Injectable({ providedIn: 'root' })
export class JointSnap {
  private readonly open = inject(OpenSequence);
  private readonly playhead = inject(Playhead);
  readonly on = remembered('joint-snap', z.boolean(), true);

  /** Frames that catch, as the cut is when pulling begins; of what is pulled itself none. */
  frames(except: readonly number[]): readonly number[] {
    const project = this.open.project();
    if (!project) return [];
    const { rate } = project.head;
    const found = new Set([this.playhead.frame(), 0, this.open.cut().frameCount]);
    for (const { atFlicks } of markersInOrder(project, this.open.id())) found.add(framesInFlicks(atFlicks, rate));
    for (const placed of this.open.cut().shots) {
      found.add(placed.startFrame);
      const move = placed.shot.cameraId === null ? undefined : moveOf(project, placed.shot.cameraId);
      for (const mark of marksInOrder(move)) {
        const inside = shotFrameAt(placed, sceneOfMark(move, mark), rate);
        if (inside !== undefined) found.add(placed.startFrame + inside);
      }
    }
    except.forEach((frame) => found.delete(frame));
    return [...found];
  }

  /**
   * How far a frame is pulled: to what catches it, where that is near.
   * @param framePx width of a frame, pixels.
   */
  caught(frame: number, by: number, framePx: number, frames: readonly number[]): number {
    if (!this.on()) return by;
    let best = by;
    let nearest = CATCH_PX / framePx;
    for (const at of frames) {
      const away = Math.abs(at - frame - by);
      if (away > nearest) continue;
      [best, nearest] = [at - frame, away];
    }
    return best;
  }
}
