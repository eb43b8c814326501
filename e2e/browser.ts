/** How Debian's browser is started without a screen: with the machine's graphics where it has some, else Debian's Mesa. */
export const BROWSER_ARGUMENTS = [
  '--no-sandbox',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--use-gl=angle',
  '--use-angle=gl-egl',
  '--ignore-gpu-blocklist',
];
