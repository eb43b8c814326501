import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import {
  flicksAtFrame,
  flicksPerFrame,
  frameAtFlicks,
  frameAtTimecode,
  framesKeepingSeconds,
  RATES,
  timecodeAtFrame,
} from '../src/time';

const anyRate = fc.constantFrom(...RATES);
const anyFrame = fc.integer({ min: 0, max: 2_589_407 });
const NTSC_30 = { frames: 30_000, seconds: 1001 };

describe('time', () => {
  it('counts a whole number of flicks in a frame of every rate', () => {
    for (const rate of RATES) expect(Number.isInteger(flicksPerFrame(rate))).toBe(true);
    expect(flicksPerFrame({ frames: 24, seconds: 1 })).toBe(29_400_000);
  });

  it('finds the frame again from its time, up to its last flick', () => {
    fc.assert(
      fc.property(anyRate, anyFrame, (rate, frame) => {
        const start = flicksAtFrame(frame, rate);
        expect(frameAtFlicks(start, rate)).toBe(frame);
        expect(frameAtFlicks(start + flicksPerFrame(rate) - 1, rate)).toBe(frame);
      }),
    );
  });

  it('keeps seconds when the rate changes', () => {
    expect(framesKeepingSeconds(150, { frames: 30, seconds: 1 }, { frames: 24, seconds: 1 })).toBe(120);
  });
});

describe('timecode', () => {
  it.each([
    [1799, '00:00:59;29'],
    [1800, '00:01:00;02'],
    [17_982, '00:10:00;00'],
    [107_892, '01:00:00;00'],
  ])('drops labels at 30000/1001: frame %i is %s', (frame, label) => {
    expect(timecodeAtFrame(frame, NTSC_30)).toBe(label);
  });

  it('does not drop labels at 24000/1001', () => {
    expect(timecodeAtFrame(24 * 3600, { frames: 24_000, seconds: 1001 })).toBe('01:00:00:00');
  });

  it('reads back what it writes', () => {
    fc.assert(
      fc.property(anyRate, anyFrame, (rate, frame) => {
        expect(frameAtTimecode(timecodeAtFrame(frame, rate), rate)).toBe(frame);
      }),
    );
  });

  it('refuses labels that do not exist, and says why', () => {
    expect(() => frameAtTimecode('00:01:00;01', NTSC_30)).toThrow('drop-frame');
    expect(() => frameAtTimecode('00:00:00:24', { frames: 24, seconds: 1 })).toThrow('not timecode');
    expect(() => frameAtTimecode('soon', NTSC_30)).toThrow('not timecode');
  });
});
