import type { Provider, Type } from '@angular/core';
import { Component, signal } from '@angular/core';
import type { ComponentFixture } from '@angular/core/testing';
import { TestBed } from '@angular/core/testing';
import { MatTooltip } from '@angular/material/tooltip';
import { By } from '@angular/platform-browser';
import type { Vector } from '@arvex/core';
import { LENGTH_IN_METRES } from '@arvex/core';
import type { Action } from '../session';
import { ACTIONS, STEPS, Units, VIEWS, Workspace } from '../session';
import type { SwitchChoice } from './switch';
import {
  ActionButton,
  cameraColour,
  AngleField,
  Card,
  CARDS,
  Cards,
  ChoiceField,
  Contributed,
  followDrag,
  IconButton,
  LengthField,
  LevelRow,
  letGoBeforePresses,
  NameField,
  NumberField,
  Switch,
  VectorRow,
} from '.';

const done = vi.fn();
const ACTION: Action = { id: 'mark', name: 'Mark this pose', keys: 'Alt+ArrowLeft', run: () => void done('mark') };

@Component({ selector: 'arvex-lens-card', template: '<p>lens</p>' })
class LensCard {}
@Component({ selector: 'arvex-focus-card', template: '<p>focus</p>' })
class FocusCard {}
const card = (id: string, place: number, type: Type<unknown>): Provider => {
  return {
    provide: CARDS,
    multi: true,
    useValue: { id, places: { cameras: place }, load: () => Promise.resolve(type) },
  };
};

beforeEach(() => {
  done.mockReset();
  localStorage.clear();
  TestBed.configureTestingModule({
    providers: [
      { provide: ACTIONS, multi: true, useValue: () => [ACTION] },
      { provide: STEPS, multi: true, useValue: { id: 'cameras', order: 1, name: 'Cameras', mends: [] } },
      { provide: VIEWS, multi: true, useValue: { id: 'picture', order: 1, name: 'Picture' } },
      { provide: Units, useValue: { length: signal('m'), metres: LENGTH_IN_METRES, text: (m: number) => `${m} m` } },
      card('focus', 2, FocusCard),
      card('lens', 1, LensCard),
    ],
  });
});

async function show<T>(type: Type<T>, inputs: Record<string, unknown> = {}): Promise<ComponentFixture<T>> {
  const fixture = TestBed.createComponent(type);
  for (const [name, value] of Object.entries(inputs)) fixture.componentRef.setInput(name, value);
  document.body.append(fixture.nativeElement as HTMLElement);
  await fixture.whenStable();
  return fixture;
}
const one = <E extends Element = HTMLElement>({ nativeElement }: ComponentFixture<unknown>, query: string) =>
  (nativeElement as HTMLElement).querySelector<E>(query) as E;
const all = ({ nativeElement }: ComponentFixture<unknown>, query: string) => [
  ...(nativeElement as HTMLElement).querySelectorAll<HTMLElement>(query),
];
const told = <T>(output: { subscribe: (next: (value: T) => void) => unknown }) => {
  const values: T[] = [];
  output.subscribe((value) => values.push(value));
  return values;
};
function press(element: Element, key: string, init: KeyboardEventInit = {}): KeyboardEvent {
  const event = new KeyboardEvent('keydown', { key, bubbles: true, cancelable: true, ...init });
  // Material's key manager still reads the number of the key.
  const codes: Record<string, number> = {
    ArrowLeft: 37,
    ArrowUp: 38,
    ArrowRight: 39,
    ArrowDown: 40,
    Enter: 13,
    ' ': 32,
  };
  Object.defineProperty(event, 'keyCode', { value: codes[key] ?? 0 });
  element.dispatchEvent(event);
  return event;
}
async function type(fixture: ComponentFixture<unknown>, text: string, key = 'Enter'): Promise<void> {
  const box = one<HTMLInputElement>(fixture, 'input');
  box.focus();
  box.dispatchEvent(new Event('focus'));
  await fixture.whenStable();
  box.value = text;
  box.dispatchEvent(new Event('input'));
  await fixture.whenStable();
  press(box, key);
  await fixture.whenStable();
}

describe('a switch', () => {
  const choices: SwitchChoice<'rail' | 'crane' | 'orbit'>[] = [
    { id: 'rail', name: 'rail' },
    { id: 'crane', name: 'crane' },
    { id: 'orbit', name: 'orbit' },
  ];

  it('is a group of radio buttons by name, of which one is in force and reached by Tab', async () => {
    const fixture = await show(Switch, { label: 'Rig', choices, value: 'crane' });
    expect(one(fixture, '[role=radiogroup]').getAttribute('aria-label')).toBe('Rig');
    const radios = all(fixture, '[role=radio]');
    expect(radios.map((radio) => radio.textContent?.trim())).toEqual(['rail', 'crane', 'orbit']);
    expect(radios.map((radio) => radio.getAttribute('aria-checked'))).toEqual(['false', 'true', 'false']);
    expect(radios.map((radio) => radio.tabIndex)).toEqual([-1, 0, -1]);
  });

  it('is gone through with the arrow keys, which nobody else gets', async () => {
    const fixture = await show(Switch, { label: 'Rig', choices, value: 'crane' });
    const chosen = told(fixture.componentInstance.chosen);
    const radios = all(fixture, '[role=radio]');
    const right = press(radios[1] as Element, 'ArrowRight');
    expect([right.defaultPrevented, chosen]).toEqual([true, ['orbit']]);
    await fixture.whenStable();
    press(all(fixture, '[role=radio]')[1] as Element, 'ArrowLeft');
    expect(chosen).toEqual(['orbit', 'rail']);
  });

  it('shows what is in force, not what was asked for and not taken', async () => {
    const fixture = await show(Switch, { label: 'Rig', choices, value: 'crane' });
    all(fixture, '[role=radio]')[0]?.click();
    await Promise.resolve();
    await fixture.whenStable();
    expect(all(fixture, '[role=radio]').map((radio) => radio.getAttribute('aria-checked'))).toEqual([
      'false',
      'true',
      'false',
    ]);
    fixture.componentRef.setInput('value', 'rail');
    await fixture.whenStable();
    expect(one(fixture, '[aria-checked=true]').textContent?.trim()).toBe('rail');
  });
});

describe('an icon button', () => {
  @Component({
    imports: [IconButton, ActionButton],
    template: `<button arvexIconButton="flag" action="mark"></button>
      <button arvexIconButton="close" label="Dismiss" hint="Take it away"></button>
      <button arvexAction="mark" hint="Keeps the pose">Mark</button>`,
  })
  class Buttons {}

  it('has the name, the key and the work of its action', async () => {
    const fixture = await show(Buttons);
    const [mark, close, worded] = all(fixture, 'button') as [HTMLButtonElement, HTMLButtonElement, HTMLButtonElement];
    expect([mark.type, mark.getAttribute('aria-label')]).toEqual(['button', 'Mark this pose']);
    expect(mark.textContent).toBe('flag');
    const tips = fixture.debugElement
      .queryAll(By.directive(MatTooltip))
      .map((one) => one.injector.get(MatTooltip).message);
    expect(tips).toEqual(['Mark this pose (Alt ←)', 'Take it away', 'Keeps the pose (Alt ←)']);
    expect(close.getAttribute('aria-label')).toBe('Dismiss');
    mark.click();
    worded.click();
    close.click();
    expect(done.mock.calls).toEqual([['mark'], ['mark']]);
  });
});

describe('a card', () => {
  it('knows from the workspace whether it is the open one', async () => {
    const fixture = await show(Card, { heading: 'Focus', summary: 'by hand', card: 'focus' });
    const open = one<HTMLButtonElement>(fixture, '.open');
    expect([open.getAttribute('aria-expanded'), all(fixture, '.body')]).toEqual(['false', []]);
    open.click();
    await fixture.whenStable();
    expect([TestBed.inject(Workspace).openCard(), open.getAttribute('aria-expanded')]).toEqual(['focus', 'true']);
    TestBed.inject(Workspace).openCard.set('lens');
    await fixture.whenStable();
    expect(open.getAttribute('aria-expanded')).toBe('false');
  });

  it('opens by itself without an id, and its dot is a switch between own and the project’s', async () => {
    const fixture = await show(Card, { heading: 'Light', openAtFirst: true, own: false });
    expect(all(fixture, '.body')).toHaveLength(1);
    const dot = one(fixture, '[role=switch]');
    expect([dot.getAttribute('aria-checked'), dot.getAttribute('aria-label')]).toEqual([
      'false',
      'Light: as the project has it',
    ]);
    const set = told(fixture.componentInstance.ownSet);
    dot.click();
    expect(set).toEqual([true]);
  });

  it('of a step comes in the order in which features place it', async () => {
    const fixture = await show(Cards, { step: 'cameras' });
    await vi.waitFor(() => expect(all(fixture, 'p').map(({ textContent }) => textContent)).toEqual(['lens', 'focus']));
    const shown = await show(Contributed, { load: () => LensCard });
    expect(one(shown, 'p').textContent).toBe('lens');
  });

  it('says that it cannot be fetched, and comes by itself', async () => {
    const load = vi.fn<() => Promise<Type<unknown>>>().mockRejectedValueOnce(new TypeError('not fetched'));
    const shown = await show(Contributed, { load: load.mockResolvedValue(LensCard) });
    await vi.waitFor(() => expect(one(shown, '[role=status]').textContent).toContain('does not answer'));
    await vi.waitFor(() => expect(one(shown, 'arvex-lens-card')?.textContent).toBe('lens'), { timeout: 3000 });
    expect([load.mock.calls.length, one(shown, '[role=status]')]).toEqual([2, null]);
  });
});

describe('a number field', () => {
  const inputs = { label: 'Height', value: 1.5, unit: 'm', units: LENGTH_IN_METRES, min: 0, max: 10 };

  it('takes units and arithmetic on Enter, and gives the keys back', async () => {
    const fixture = await show(NumberField, inputs);
    const set = told(fixture.componentInstance.valueSet);
    const box = one<HTMLInputElement>(fixture, 'input');
    expect([box.getAttribute('aria-label'), box.value]).toEqual(['Height', '1.50']);
    await type(fixture, '12ft 6in');
    expect([set, document.activeElement === box]).toEqual([[3.81], false]);
    await type(fixture, '9', 'Escape');
    expect([set, box.value]).toEqual([[3.81], '1.50']);
  });

  it('says what is wrong where it is typed, to those who listen too, and keeps it there', async () => {
    const fixture = await show(NumberField, inputs);
    const set = told(fixture.componentInstance.valueSet);
    await type(fixture, '99');
    expect(one(fixture, '[role=alert]').textContent).toBe('Height goes from 0 to 10 m.');
    expect([one(fixture, 'input').getAttribute('aria-invalid'), set]).toEqual(['true', []]);
  });

  it('steps with the arrow keys, ten times as far with Shift, as far as its range', async () => {
    const fixture = await show(NumberField, inputs);
    const set = told(fixture.componentInstance.valueSet);
    const box = one(fixture, 'input');
    expect(press(box, 'ArrowUp').defaultPrevented).toBe(true);
    press(box, 'ArrowDown', { shiftKey: true });
    press(box, 'ArrowUp', { shiftKey: true });
    expect(set).toEqual([1.6, 0.5, 2.5]);
  });

  it('for lengths follows the project’s unit, for angles knows radians, for vectors names each of three', async () => {
    const length = await show(LengthField, { label: 'Arm', value: 2 });
    const lengths = told(length.componentInstance.valueSet);
    await type(length, '1ft');
    expect(lengths).toEqual([0.3048]);
    const angle = await show(AngleField, { label: 'Swing', value: 90 });
    const angles = told(angle.componentInstance.valueSet);
    await type(angle, '1rad');
    expect(angles[0]).toBeCloseTo(57.29578, 4);
    const value: Vector = [1, 2, 3];
    const vector = await show(VectorRow, { name: 'Place', labels: ['East', 'Up', 'South'], value });
    const host = vector.nativeElement as HTMLElement;
    expect([host.getAttribute('role'), host.getAttribute('aria-label')]).toEqual(['group', 'Place']);
    const boxes = all(vector, 'input') as HTMLInputElement[];
    expect(boxes.map((box) => [box.getAttribute('aria-label'), box.value])).toEqual([
      ['East', '1.00'],
      ['Up', '2.00'],
      ['South', '3.00'],
    ]);
    const axes = told(vector.componentInstance.axisSet);
    press(boxes[2] as Element, 'ArrowUp');
    expect(axes).toEqual([{ axis: 2, value: 3.1 }]);
  });
});

describe('a name field', () => {
  it('keeps what is typed on Enter, nothing empty, and gives up with Escape', async () => {
    const fixture = await show(NameField, { label: 'Name', value: 'Gate' });
    const named = told(fixture.componentInstance.named);
    await type(fixture, ' Gate, low ');
    await type(fixture, '  ');
    await type(fixture, 'Pier', 'Escape');
    expect([named, one<HTMLInputElement>(fixture, 'input').value]).toEqual([['Gate, low'], 'Gate']);
  });

  it('is entered again with the name that was just given, before that has come back', async () => {
    const fixture = await show(NameField, { label: 'Name', value: 'Gate' });
    const box = one<HTMLInputElement>(fixture, 'input');
    box.focus();
    box.value = 'Pier';
    box.dispatchEvent(new Event('input'));
    box.blur();
    box.focus();
    fixture.componentRef.setInput('value', 'Pier');
    await fixture.whenStable();
    expect(box.value).toBe('Pier');
  });

  it('holds what is typed while its value changes elsewhere, and is let go of before a press elsewhere does anything', async () => {
    const fixture = await show(NameField, { label: 'Name', value: 'Gate' });
    const named = told(fixture.componentInstance.named);
    document.body.append(fixture.nativeElement as Node);
    const end = letGoBeforePresses(document.body);
    const box = one<HTMLInputElement>(fixture, 'input');
    box.focus();
    box.value = 'Pier';
    box.dispatchEvent(new Event('input'));
    fixture.componentRef.setInput('value', 'Gate, open');
    await fixture.whenStable();
    expect(box.value).toBe('Pier');
    const pressOn = (element: Element) => element.dispatchEvent(new MouseEvent('pointerdown', { bubbles: true }));
    pressOn(box);
    expect([document.activeElement, named]).toEqual([box, []]);
    const before: string[][] = [];
    document.body.addEventListener('pointerdown', () => before.push([...named] as string[]), { once: true });
    pressOn(document.body);
    expect(before).toEqual([['Pier']]);
    end();
  });
});

describe('a choice field', () => {
  it('opens a menu of radio items with the one in force, and tells the chosen one', async () => {
    const fixture = await show(ChoiceField, {
      label: 'Fit',
      value: 'fill',
      choices: [
        { id: 'fill', name: 'fill' },
        { id: 'all', name: 'show all' },
      ],
    });
    const chosen = told(fixture.componentInstance.chosen);
    const button = one<HTMLButtonElement>(fixture, 'button');
    const said = [...button.querySelectorAll('span, small')].map(({ textContent }) => textContent).join('');
    expect([said, button.getAttribute('aria-haspopup')]).toEqual(['Fit: fill', 'menu']);
    button.click();
    await fixture.whenStable();
    const items = [...document.querySelectorAll<HTMLElement>('[role=menuitemradio]')];
    expect(items.map((item) => item.getAttribute('aria-checked'))).toEqual(['true', 'false']);
    items[1]?.click();
    expect(chosen).toEqual(['all']);
  });
});

describe('the level of a light group', () => {
  it('is turned off by its lamp, and says what it is', async () => {
    const level = { stops: 1, tint: '#ffffff', on: true };
    const fixture = await show(LevelRow, { name: 'Lantern', level });
    const set = told(fixture.componentInstance.levelSet);
    const lamp = one(fixture, 'button');
    expect([lamp.getAttribute('aria-label'), lamp.getAttribute('aria-pressed')]).toEqual(['Lantern is on', 'true']);
    lamp.click();
    expect(set).toEqual([{ ...level, on: false }]);
    expect(all(fixture, 'input').map((input) => input.getAttribute('aria-label'))).toEqual([
      'Stops of Lantern',
      'Stops of Lantern, typed',
      'Tint of Lantern',
    ]);
  });
});

describe('small things', () => {
  it('colours of cameras come round', () => {
    expect(cameraColour(9)).toBe(cameraColour(1));
    expect(cameraColour(2)).not.toBe(cameraColour(1));
  });

  it('a drag is taken only once it moves, and given up with Escape', () => {
    const element = document.body.appendChild(document.createElement('div'));
    const captured = vi.fn();
    element.setPointerCapture = captured;
    const pointer = (kind: string, x: number) =>
      Object.assign(new MouseEvent(kind, { clientX: x, bubbles: true }), { pointerId: 1 });
    const ends: boolean[] = [];
    const moves: number[] = [];
    element.addEventListener('pointerdown', (event) =>
      followDrag(
        event,
        ({ dx }) => moves.push(dx),
        (kept) => ends.push(kept),
      ),
    );
    element.dispatchEvent(pointer('pointerdown', 10));
    element.dispatchEvent(pointer('pointerup', 10));
    expect([captured.mock.calls.length, ends]).toEqual([0, [false]]);
    element.dispatchEvent(pointer('pointerdown', 10));
    element.dispatchEvent(pointer('pointermove', 14));
    element.dispatchEvent(pointer('pointerup', 14));
    expect([captured.mock.calls.length, moves, ends]).toEqual([1, [4], [false, true]]);
    element.dispatchEvent(pointer('pointerdown', 10));
    element.dispatchEvent(pointer('pointermove', 12));
    press(document.body, 'Escape');
    expect(ends).toEqual([false, true, false]);
  });
});
