/** Where the sun stands: degrees above the horizon, and clockwise from north. */
export interface SunPosition {
  readonly elevationDeg: number;
  readonly azimuthDeg: number;
}

const RADIANS = Math.PI / 180;

/** Julian date of 1970-01-01T00:00Z and of the epoch J2000.0. */
const UNIX_EPOCH_JD = 2_440_587.5;

const J2000_JD = 2_451_545;

const DAYS_A_CENTURY = 36_525;

const MS_A_DAY = 86_400_000;

const sin = (degrees: number) => Math.sin(degrees * RADIANS);

const cos = (degrees: number) => Math.cos(degrees * RADIANS);

/**
 * The sun's place in the sky, without refraction, to about 0.01° between 1900 and 2100 (Meeus, Astronomical Algorithms,
 * 2nd edition, chapter 25, low accuracy). 2003-10-17 19:30:30 UTC at 39.742° N, 105.179° W: 39.87° up, azimuth 194.34°.
 * @param unixMs time in milliseconds since 1970 UTC. Latitude north and longitude east are positive, degrees.
 */
export function sunPosition(unixMs: number, latitudeDeg: number, longitudeDeg: number): SunPosition {
  const days = unixMs / MS_A_DAY + UNIX_EPOCH_JD - J2000_JD;
  const t = days / DAYS_A_CENTURY;
  const meanLongitude = 280.46646 + t * (36_000.76983 + t * 0.0003032);
  const anomaly = 357.52911 + t * (35_999.05029 - t * 0.0001537);
  const centre =
    (1.914602 - t * (0.004817 + t * 0.000014)) * sin(anomaly) +
    (0.019993 - 0.000101 * t) * sin(2 * anomaly) +
    0.000289 * sin(3 * anomaly);
  const node = 125.04 - 1934.136 * t;
  const longitude = meanLongitude + centre - 0.00569 - 0.00478 * sin(node);
  const obliquity = 23.439291 - t * 0.0130042 + 0.00256 * cos(node);
  const rightAscension = Math.atan2(cos(obliquity) * sin(longitude), cos(longitude)) / RADIANS;
  const declination = Math.asin(sin(obliquity) * sin(longitude)) / RADIANS;
  // Sidereal time at Greenwich (chapter 12), then the sun's hour angle here.
  const sidereal = 280.46061837 + 360.98564736629 * days + 0.000387933 * t * t;
  const hourAngle = sidereal + longitudeDeg - rightAscension;
  const elevationDeg =
    Math.asin(sin(latitudeDeg) * sin(declination) + cos(latitudeDeg) * cos(declination) * cos(hourAngle)) / RADIANS;
  const azimuth =
    Math.atan2(
      -cos(declination) * sin(hourAngle),
      sin(declination) * cos(latitudeDeg) - cos(declination) * cos(hourAngle) * sin(latitudeDeg),
    ) / RADIANS;
  return { elevationDeg, azimuthDeg: ((azimuth % 360) + 360) % 360 };
}
