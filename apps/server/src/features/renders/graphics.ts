/** How Debian's browser is started without a screen; how it draws is said by {@link GRAPHICS}. */
export const BROWSER_ARGUMENTS: readonly string[] = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-background-timer-throttling',
];

/** A way in which a browser without a screen draws. */
export interface Graphics {
  readonly name: string;
  readonly flags: readonly string[];
}

/**
 * Best first: the graphics card where there is one and Debian's Mesa otherwise (which draws twice as fast as the browser's own), then the
 * browser's own software, which is always there.
 */
export const GRAPHICS: readonly Graphics[] = [
  { name: 'the machine’s graphics', flags: ['--use-gl=angle', '--use-angle=gl-egl', '--ignore-gpu-blocklist'] },
  { name: 'the browser’s own software', flags: ['--use-angle=swiftshader', '--enable-unsafe-swiftshader'] },
];
