import type { Wearers } from '@arvex/core';

const counted = (count: number, one: string) => `${count} ${one}${count === 1 ? '' : 's'}`;

/** Whom else a change of a look reaches, in words: "3 other cameras and 1 variation". */
export function othersWords({ cameras, variations }: Wearers): string {
  const waiting = variations.filter(({ camera, variation }) => camera.wears !== variation.id).length;
  const parts = [
    ...(cameras.length > 0 ? [counted(cameras.length, 'other camera')] : []),
    ...(waiting > 0 ? [`${counted(waiting, 'variation')} that ${waiting === 1 ? 'waits' : 'wait'}`] : []),
  ];
  return parts.join(' and ');
}
