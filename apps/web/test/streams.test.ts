import type { Observable } from 'rxjs';
import { defer, of, race, take, throwError } from 'rxjs';
import { TestScheduler } from 'rxjs/testing';
import { afterEach, expect, it, vi } from 'vitest';
import * as z from 'zod';
import { askedAnew, holding, remembered, retryWithPauses } from '../src/app/data';
import type { ProjectEvent } from '../src/app/data/project-events';
import { ProjectEvents } from '../src/app/data/project-events';
import { measuredAtRest } from '../src/app/session';
import { fakeLocks, FakeEvents } from './browser';

afterEach(() => void vi.useRealTimers());

/** Runs with a clock that only the marbles move; a column is a millisecond. */
const virtually = (run: Parameters<TestScheduler['run']>[0]) =>
  new TestScheduler((actual, expected) => expect(actual).toEqual(expected)).run(run);

it('tries again after half a second, then twice as long each time, half a minute at most, and tells each failure', () => {
  const told: number[] = [];
  virtually(({ cold, expectObservable }) => {
    const failing = cold('#').pipe(retryWithPauses((_, tries) => told.push(tries)));
    expectObservable(failing, '^ 100s !').toBe('');
  });
  // After 0, 0.5, 1.5, 3.5, 7.5, 15.5 and 31.5 seconds, then every thirty; nothing after nobody listens.
  expect(told).toEqual([1, 2, 3, 4, 5, 6, 7, 8, 9]);
});

it('begins with short pauses anew once something came, and ends a pause early when asked', () => {
  virtually(({ cold, hot, expectObservable }) => {
    const outcomes = ['#', '#', 'a#', 'b|'];
    const restless = defer(() => cold(outcomes.shift() ?? '|'));
    expectObservable(restless.pipe(retryWithPauses(() => undefined))).toBe('1500ms a 500ms b|');
    const others = ['#', 'c|'];
    const woken = defer(() => cold(others.shift() ?? '|'));
    const wake = hot('200ms w');
    const sooner = () => wake.pipe(take(1));
    expectObservable(woken.pipe(retryWithPauses(() => undefined, sooner))).toBe('200ms c|');
  });
});

it('makes no pause longer for tries that came early and met nothing', () => {
  virtually(({ cold, hot, expectObservable }) => {
    const outcomes = ['#', '#', '#', '#', 'a|'];
    const hinted = defer(() => cold(outcomes.shift() ?? '|'));
    const hints = hot('100ms h 99ms h 99ms h');
    const sooner = (pause: Observable<unknown>) => race(pause, hints).pipe(take(1));
    expectObservable(hinted.pipe(retryWithPauses(() => undefined, sooner))).toBe('800ms a|');
  });
});

it('asks one question at a time, and once more after it for whatever it was told meanwhile', () => {
  virtually(({ hot, cold, expectObservable }) => {
    const answers = ['a', 'b', 'c', 'd'];
    const question = () => cold('--(r|)', { r: answers.shift() });
    expectObservable(hot('ttt----t--|').pipe(askedAnew(question))).toBe('--a-b----c|');
  });
});

it('measures what has rested, and nothing while nothing may be measured', () => {
  virtually(({ hot, expectObservable }) => {
    const rested = { name: 'rested' };
    const values = { a: { name: 'dragged' }, b: rested, u: undefined };
    const measure = (what: object) => of(what);
    expectObservable(hot('a-b 500ms a-u', values).pipe(measuredAtRest(measure, vi.fn()))).toBe('402ms b', {
      b: rested,
    });
  });
});

it('gives up what it measures as soon as something else is to be measured', () => {
  virtually(({ hot, cold, expectObservable }) => {
    const measure = ({ name }: { name: string }) => cold('50ms (r|)', { r: name });
    const asked = hot('a 420ms b', { a: { name: 'as it was' }, b: { name: 'as it is' } });
    expectObservable(asked.pipe(measuredAtRest(measure, vi.fn()))).toBe('871ms r', { r: 'as it is' });
  });
});

it('measures again after a pause what failed, for as long as nothing else has rested', () => {
  const told = vi.fn();
  virtually(({ hot, expectObservable }) => {
    const outcomes = [throwError(() => new Error('away')), of('first'), throwError(() => new Error('away'))];
    const measure = () => outcomes.shift() ?? of('last');
    const rests = hot('a 2000ms a 449ms b', { a: { name: 'one' }, b: { name: 'other' } });
    expectObservable(rests.pipe(measuredAtRest(measure, told))).toBe('900ms f 1950ms l', { f: 'first', l: 'last' });
  });
  expect(told).toHaveBeenCalledTimes(2);
});

it('holds a lock until nobody listens, and the next one gets it then', async () => {
  const order: string[] = [];
  const first = holding('a-renderer').subscribe(() => order.push('first'));
  const second = holding('a-renderer').subscribe(() => order.push('second'));
  await vi.waitFor(() => expect(order).toEqual(['first']));
  first.unsubscribe();
  await vi.waitFor(() => expect(order).toEqual(['first', 'second']));
  second.unsubscribe();
  await vi.waitFor(() => expect(fakeLocks.held.has('a-renderer')).toBe(false));
});

it('opens a stream of events again after a pause where the browser gave it up, and closes it with its last listener', async () => {
  vi.useFakeTimers();
  const came: ProjectEvent[] = [];
  const lost = vi.fn();
  const listening = new ProjectEvents().of('here', lost).subscribe((event) => came.push(event));
  const urls = () => [...FakeEvents.open].map(({ url }) => url);
  await vi.advanceTimersByTimeAsync(0);
  expect(urls()).toEqual(['/api/projects/here/events']);
  FakeEvents.send('error', {});
  expect([urls(), lost.mock.calls.length > 0]).toEqual([[], true]);
  await vi.advanceTimersByTimeAsync(499);
  expect(urls()).toEqual([]);
  await vi.advanceTimersByTimeAsync(1);
  expect(urls()).toHaveLength(1);
  FakeEvents.send('change', { not: 'a change' }); // not to be read: its place in the history shows that it is missing
  expect(came).toEqual([]);
  listening.unsubscribe();
  expect(urls()).toEqual([]);
});

it('opens one stream for ten tabs of a browser, and another when the tab that has it is closed', async () => {
  const seen: number[][] = [];
  const tabs = Array.from({ length: 10 }, (_, i) => {
    seen.push([]);
    return new ProjectEvents()
      .of('shared', () => undefined)
      .subscribe((event) => {
        if (event.kind === 'hello') seen[i]?.push(event.data.seq);
      });
  });
  await vi.waitFor(() => expect(FakeEvents.open.size).toBe(1));
  FakeEvents.send('hello', { seq: 7 });
  await vi.waitFor(() => expect(seen.map((seqs) => seqs.at(-1))).toEqual(seen.map(() => 7)));
  // Who opens the project later is told at once where it is.
  const late: number[] = [];
  const later = new ProjectEvents()
    .of('shared', () => undefined)
    .subscribe((event) => {
      if (event.kind === 'hello') late.push(event.data.seq);
    });
  await vi.waitFor(() => expect(late).toEqual([7]));
  tabs[0]?.unsubscribe();
  await vi.waitFor(() => expect(FakeEvents.open.size).toBe(1));
  FakeEvents.send('hello', { seq: 8 });
  await vi.waitFor(() => expect([seen[9]?.at(-1), late.at(-1)]).toEqual([8, 8]));
  for (const tab of [...tabs, later]) tab.unsubscribe();
});

it('remembers a choice in the moment it is made, whatever becomes of who made it', () => {
  const form = () => remembered('form', z.enum(['pictures', 'list']), 'pictures');
  const first = form();
  first.set('list');
  expect(form()()).toBe('list');
  first.update(() => 'pictures');
  expect(form()()).toBe('pictures');
});
