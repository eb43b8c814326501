/** Where a file of a render is had. */
export function addressOf(renderId: string, path: string): string {
  return `/api/renders/${renderId}/files/${path.split('/').map(encodeURIComponent).join('/')}`;
}
