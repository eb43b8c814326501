import { describe, expect, it, vi } from 'vitest';
import { projectWithCamera } from '../../../packages/core/test/sample-project';
import { MemoryServer, openTab } from './tab';

/** A screen whose frames come when the test says. */
function screen() {
  let now = 5000;
  let next: ((time: number) => void) | undefined;
  vi.stubGlobal('requestAnimationFrame', (frame: (time: number) => void) => {
    next = frame;
    return 1;
  });
  vi.spyOn(performance, 'now').mockImplementation(() => now);
  return {
    get now() {
      return now;
    },
    frame(afterMs: number): void {
      now += afterMs;
      const due = next;
      next = undefined;
      due?.(now);
    },
  };
}
/** Times between frames as a busy machine has them: mostly 16 ms, now and then a long one. The same on every run. */
function* busy(): Generator<number> {
  for (let i = 0, seed = 7; ; i++) {
    seed = (seed * 48271) % 2147483647;
    yield seed % 40 === 0 ? 400 : 16 + (seed % 23);
  }
}
const opened = () => openTab(new MemoryServer(projectWithCamera().project));
/** An empty scene has ten seconds to set marks in. */
const FRAMES = 240;

describe('playing', () => {
  it('for ten minutes on a busy machine is never a frame away from the clock, and counts what it left out', async () => {
    const { playhead, playback } = await opened();
    playhead.toMode('camera');
    const screened = screen();
    const begun = screened.now;
    playback.toggle();
    let [worst, drawn] = [0, 0];
    playback.due$.subscribe((frame) => {
      drawn += 1;
      playback.arrive(frame);
    });
    for (const pause of busy()) {
      screened.frame(pause);
      if (drawn % 50 === 0) await new Promise((resolve) => setTimeout(resolve)); // Angular takes frames without an end for a circle
      const due = ((screened.now - begun) / 1000) * 24;
      const behind = (((due - playhead.frame()) % FRAMES) + FRAMES) % FRAMES;
      worst = Math.max(worst, Math.min(behind, FRAMES - behind));
      if (screened.now - begun > 600_000) break;
    }
    expect(worst).toBeLessThanOrEqual(1 + 1e-6);
    expect(playback.dropped()).toBeGreaterThan(0);
    expect(Math.abs(playback.dropped() + drawn - 600 * 24)).toBeLessThan(15);
    expect(playback.reached()).toBeCloseTo(drawn / 600, 1);
    playback.toggle();
    expect(playhead.playing()).toBe(false);
  });

  it('follows the sound for ten minutes within half a frame, however wrong the clock of the machine goes', async () => {
    const { playhead, playback } = await opened();
    playhead.toMode('camera');
    const screened = screen();
    const begun = screened.now;
    // The sound card is half a per cent slower than the machine: 3 s in ten minutes.
    const heardMs = () => (screened.now - begun) * 0.995;
    playback.toggle();
    playback.followSound(heardMs);
    let [worst, drawn] = [0, 0];
    playback.due$.subscribe((frame) => {
      const heard = (heardMs() / 1000) * 24;
      const behind = (((heard - frame) % FRAMES) + FRAMES) % FRAMES;
      // A frame is asked for within the time in which it is to be seen.
      worst = Math.max(worst, Math.abs(Math.min(behind, FRAMES - behind) - 0.5));
      drawn += 1;
      playback.arrive(frame);
    });
    while (screened.now - begun < 600_000) {
      screened.frame(16);
      if (drawn % 50 === 0) await new Promise((resolve) => setTimeout(resolve));
    }
    expect(worst).toBeLessThanOrEqual(0.5 + 1e-6);
    expect(drawn).toBeGreaterThan(590 * 24);
  });

  it('goes on from the clock once a picture is drawn, so that slow drawing leaves frames out and is never late', async () => {
    const { playhead, playback } = await opened();
    playhead.toMode('camera');
    const screened = screen();
    playback.toggle();
    const begun = screened.now;
    const seen: number[] = [];
    let ready = Infinity;
    playback.due$.subscribe((frame) => {
      seen.push(frame);
      ready = screened.now + 130; // how long its picture takes
      expect(playhead.frame()).toBe(seen.at(-2) ?? 0); // what is seen stays until the next is there
      expect(frame).toBe(Math.floor(((screened.now - begun) / 1000) * 24 + 1e-9));
    });
    while (screened.now - begun < 5000) {
      if (screened.now >= ready) {
        playback.arrive(playback.comingFrame());
        ready = Infinity;
      }
      screened.frame(10);
    }
    expect(seen.length).toBeGreaterThan(30);
    expect(seen.length).toBeLessThan(40);
  });

  it('shows every frame when asked, however long each takes, and never one twice', async () => {
    const { playhead, playback } = await opened();
    playhead.toMode('camera');
    const screened = screen();
    playback.changeEveryFrame();
    playback.toggle();
    const seen = [playhead.frame()];
    playback.due$.subscribe((frame) => seen.push(frame));
    for (let i = 0; i < 400 && seen.length < 60; i++) {
      if (i % 3 === 0) playback.arrive(playback.comingFrame()); // drawing takes three times as long as a frame of the screen
      screened.frame(50);
    }
    expect(seen).toEqual(Array.from({ length: seen.length }, (_, i) => i));
    expect([seen.length, playback.dropped()]).toEqual([60, 0]);
  });

  it('stays inside its range, goes round in it or stops at its end, and backward too', async () => {
    const { playhead, playback } = await opened();
    playhead.toMode('camera');
    const screened = screen();
    playhead.goTo(10);
    playhead.setRangeEnd('first');
    playhead.goTo(33);
    playhead.setRangeEnd('last');
    expect(playhead.range()).toEqual([10, 33]);
    playhead.goTo(100);
    playback.toggle();
    expect(playhead.frame()).toBe(10);
    screened.frame(1000); // 24 frames on: once round
    expect(playhead.frame()).toBe(10);
    screened.frame(500);
    expect(playhead.frame()).toBe(22);
    playback.shuttle(-1);
    screened.frame(590); // 14 frames back
    expect(playhead.frame()).toBe(32);
    playback.loop.set(false);
    playback.shuttle(1);
    screened.frame(5000);
    expect([playhead.frame(), playhead.playing()]).toEqual([33, false]);
  });

  it('runs at half and quarter pace, and faster by the shuttle', async () => {
    const { playhead, playback } = await opened();
    playhead.toMode('camera');
    const screened = screen();
    playback.toggle();
    playback.changePace();
    screened.frame(1000);
    expect(playhead.frame()).toBe(12);
    playback.changePace();
    screened.frame(1000);
    expect(playhead.frame()).toBe(18);
    playback.changePace();
    playback.shuttle(1);
    screened.frame(1000);
    expect(playhead.frame()).toBe(18 + 48);
  });
});
