import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { clearDaylight, daylightOf, lightFactor, sunPosition } from '../src/light';
import { SET_DEFAULTS } from '../src/model';
import { pathThrough } from '../src/space';

describe('the sun', () => {
  // The worked example of the Solar Position Algorithm (Reda and Andreas, NREL/TP-560-34302, 2008).
  it('stands where an independent algorithm puts it', () => {
    const { elevationDeg, azimuthDeg } = sunPosition(Date.UTC(2003, 9, 17, 19, 30, 30), 39.742476, -105.1786);
    expect(elevationDeg).toBeCloseTo(39.872046, 1);
    expect(azimuthDeg).toBeCloseTo(194.340241, 1);
  });

  it('is overhead at the equator at the equinox’s noon, and low in the north at midsummer midnight', () => {
    expect(sunPosition(Date.UTC(2026, 2, 20, 12, 7, 30), 0, 0).elevationDeg).toBeGreaterThan(89.5);
    const midnight = sunPosition(Date.UTC(2026, 5, 21, 0, 2), 70, 0);
    expect(midnight.elevationDeg).toBeCloseTo(70 + 23.44 - 90, 1);
    expect(Math.min(midnight.azimuthDeg, 360 - midnight.azimuthDeg)).toBeLessThan(1);
  });

  it('follows from the place of a set and its local time', () => {
    const place = {
      latitudeDeg: 39.742476,
      longitudeDeg: -105.1786,
      localTime: '2003-10-17T12:30',
      utcOffsetHours: -7,
    };
    const { sun } = daylightOf({ ...SET_DEFAULTS, sunFrom: 'place', sunPlace: place });
    expect(sun.elevationDeg).toBeCloseTo(39.87, 1);
  });
});

describe('light that follows the sun', () => {
  // Usual illuminance, lux: sun, sky.
  it.each([
    [60, 100_000, 15_000],
    [10, 25_000, 7000],
    [0, 180, 400],
    [-6, 0, 3.4],
  ])('at %d° is %d lx of sun and %d lx of sky', (elevation, sunLx, skyLx) => {
    const { sun, sky } = clearDaylight(elevation);
    expect(sun.illuminanceLx / Math.max(1, sunLx)).toBeCloseTo(sunLx === 0 ? 0 : 1, 6);
    expect(sky.illuminanceLx / skyLx).toBeCloseTo(1, 6);
  });

  it('only grows as the sun climbs', () => {
    fc.assert(
      fc.property(fc.double({ min: -30, max: 89, noNaN: true }), (elevation) => {
        const [low, high] = [clearDaylight(elevation), clearDaylight(elevation + 1)];
        expect(high.sun.illuminanceLx).toBeGreaterThanOrEqual(low.sun.illuminanceLx);
        expect(high.sky.illuminanceLx).toBeGreaterThanOrEqual(low.sky.illuminanceLx);
      }),
    );
  });
});

describe('a tint', () => {
  it('changes the colour of light and not its amount', () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 0xffffff }), fc.double({ min: -8, max: 8, noNaN: true }), (rgb, stops) => {
        const tint = `#${rgb.toString(16).padStart(6, '0')}`;
        const [r, g, b] = lightFactor({ stops, tint, on: true });
        expect((0.2126 * r + 0.7152 * g + 0.0722 * b) / 2 ** stops).toBeCloseTo(1, 9);
      }),
    );
    expect(lightFactor({ stops: 3, tint: '#ffffff', on: false })).toEqual([0, 0, 0]);
  });
});

describe('a smooth path', () => {
  const whole = fc.integer({ min: -50, max: 50 });
  const chords = (path: ReturnType<typeof pathThrough>, count: number) => {
    let sum = 0;
    let a = path.pointAt(0);
    for (let i = 1; i <= count; i++) {
      const b = path.pointAt((path.lengthM * i) / count);
      sum += Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);
      a = b;
    }
    return sum;
  };

  it('has the length of ever finer chords, to a ten-thousandth', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(whole, whole, whole), { minLength: 2, maxLength: 6 }),
        fc.boolean(),
        (nodes, closed) => {
          const path = pathThrough(nodes, closed);
          fc.pre(path.lengthM > 1);
          // A path that turns back on itself costs the chords one of their own length.
          expect(Math.abs(chords(path, 14_000) / path.lengthM - 1)).toBeLessThan(1e-4);
        },
      ),
      { numRuns: 30 },
    );
  });

  it('goes through its nodes, and a closed one comes back to the first', () => {
    const nodes = [
      [0, 0, 0],
      [4, 1, 0],
      [6, 0, 5],
      [0, 2, 7],
    ] as const;
    const path = pathThrough(nodes, true);
    nodes.forEach((one, i) => {
      path
        .pointAt(path.nodeDistancesM[i] ?? NaN)
        .forEach((value, axis) => expect(value).toBeCloseTo(one[axis] ?? NaN, 6));
    });
    path.pointAt(path.lengthM).forEach((value) => expect(value).toBeCloseTo(0, 6));
  });

  it('approximates a circle through twelve nodes', () => {
    const nodes = Array.from({ length: 12 }, (_, i) => {
      const angle = (i / 12) * 2 * Math.PI;
      return [Math.cos(angle) * 5, 0, Math.sin(angle) * 5] as const;
    });
    expect(pathThrough(nodes, true).lengthM / (10 * Math.PI)).toBeCloseTo(1, 2);
  });
});
