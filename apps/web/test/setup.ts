import '@angular/compiler';
import { provideZonelessChangeDetection } from '@angular/core';
import { getTestBed } from '@angular/core/testing';
import { BrowserTestingModule, platformBrowserTesting } from '@angular/platform-browser/testing';
import 'fake-indexeddb/auto';
import { beforeEach, vi } from 'vitest';
import { BroadcastChannel } from 'node:worker_threads';
import { FakeEvents, fakeLocks } from './browser';

getTestBed().initTestEnvironment(BrowserTestingModule, platformBrowserTesting());
Object.defineProperty(navigator, 'locks', { value: fakeLocks });
Object.assign(globalThis, { EventSource: FakeEvents, BroadcastChannel });

beforeEach(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
  localStorage.clear();
  sessionStorage.clear();
  fakeLocks.clear();
  FakeEvents.open.clear();
  getTestBed()
    .resetTestingModule()
    .configureTestingModule({ providers: [provideZonelessChangeDetection()] });
});
