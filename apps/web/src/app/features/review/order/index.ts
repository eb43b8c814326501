import type { Type } from '@angular/core';
import type { OrderTopic } from '@arvex/core';

/** The editor of each word of an order, fetched when it is first opened. */
export const ORDER_EDITORS: Readonly<Record<OrderTopic, () => Promise<Type<unknown>>>> = {
  what: () => import('./what-editor').then((file) => file.WhatEditor),
  frames: () => import('./frames-editor').then((file) => file.FramesEditor),
  size: () => import('./size-editor').then((file) => file.SizeEditor),
  samples: () => import('./samples-editor').then((file) => file.SamplesEditor),
  shading: () => import('./seen-editor').then((file) => file.SeenEditor),
  background: () => import('./background-editor').then((file) => file.BackgroundEditor),
  eyes: () => import('./eyes-editor').then((file) => file.EyesEditor),
  formats: () => import('./formats-editor').then((file) => file.FormatsEditor),
  burnIns: () => import('./burn-ins-editor').then((file) => file.BurnInsEditor),
  sound: () => import('./sound-editor').then((file) => file.SoundEditor),
  names: () => import('./names-editor').then((file) => file.NamesEditor),
};
