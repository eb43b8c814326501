import { ChangeDetectionStrategy, Component, computed, effect, inject } from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { MatTooltip } from '@angular/material/tooltip';
import type { Step } from '@arvex/core';
import { STEPS } from '@arvex/core';
import { CameraChip } from './features/cameras';
import { CameraList } from './views/camera-list/camera-list';
import { FocusRuler } from './views/picture';
import { FreeView } from './views/picture';
import { LightStrip } from './views/picture';
import { Picture } from './views/picture';
import { Plan } from './views/plan';
import { Reel } from './views/reel';
import { followDrag } from './ui';
import { ViewTabs } from './views';
import { Actions } from './actions';
import { Api } from './data';
import { BringingIn } from './features/set';
import { Checks } from './readiness';
import { Notices } from './data';
import { PieceMaking } from './features/set';
import { ProjectStore } from './data';
import { Renders } from './features/review';
import { Viewing } from './session';
import { Walking } from './features/set';
import { CamerasBench } from './features/cameras/cameras-bench';
import { CurvesView } from './views/curves/curves-view';
import { MovesBench } from './features/moves/moves-bench';
import { Movie } from './features/review';
import { OutputList } from './features/review';
import { ReviewBench } from './features/review/review-bench';
import { SequenceBench } from './features/sequence/sequence-bench';
import { SetBench } from './features/set/set-bench';

const STEP_FACES: Readonly<Record<Step, { name: string; icon: string }>> = {
  set: { name: 'Set', icon: 'landscape' },
  cameras: { name: 'Cameras', icon: 'photo_camera' },
  moves: { name: 'Moves', icon: 'conversion_path' },
  sequence: { name: 'Sequence', icon: 'view_column' },
  review: { name: 'Review', icon: 'rate_review' },
};

const SAVE_TEXTS = {
  saved: { icon: 'check', text: 'saved', hint: 'Everything is on the server.' },
  saving: { icon: 'sync', text: 'saving', hint: 'Kept in this browser, on its way to the server.' },
  'kept here': {
    icon: 'cloud_off',
    text: 'kept here',
    hint: 'The server does not answer. Your edits are kept in this browser and sent when it is back.',
  },
  offline: {
    icon: 'cloud_off',
    text: 'offline',
    hint: 'The server does not answer. You can go on; edits are kept in this browser.',
  },
} as const;

/** Keys that a text field, a slider or a menu needs for itself. */
const FOR_TYPING = 'input:not([type=range]), textarea, [contenteditable]';

/** The application: steps, picture with its instruments, second view, bench and reel. */
@Component({
  selector: 'arvex-app',
  imports: [
    // Named by themselves, so that they are fetched when they are first shown.
    CameraList,
    CurvesView,
    MovesBench,
    ReviewBench,
    SequenceBench,
    SetBench,
    ...[CameraChip, CamerasBench, FocusRuler, FreeView, LightStrip, MatIcon, MatTooltip, Movie, OutputList],
    ...[Picture, Plan, Reel, ViewTabs],
  ],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './app.html',
  styleUrl: './app.scss',
  host: {
    '(window:keydown)': 'key($event)',
    '(window:keyup)': 'keyUp($event)',
    '(window:dragover)': '$event.preventDefault()',
    '(window:drop)': 'drop($event)',
    '(window:pointerdown)': 'endWalking()',
    '[style.--bench-width.px]': 'viewing.layout().bench',
    '[style.--picture-share]': 'viewing.layout().picture',
  },
})
export class App {
  private readonly api = inject(Api);
  private readonly dialog = inject(MatDialog);
  protected readonly store = inject(ProjectStore);
  protected readonly viewing = inject(Viewing);
  protected readonly actions = inject(Actions);
  protected readonly checks = inject(Checks);
  protected readonly notices = inject(Notices);
  protected readonly renders = inject(Renders);
  protected readonly pieces = inject(PieceMaking);
  private readonly walkingAbout = inject(Walking);
  private readonly bringing = inject(BringingIn);

  protected readonly steps = STEPS.map((id, i) => ({ id, key: String(i + 1), ...STEP_FACES[id] }));
  protected readonly curveViews = ['graph', 'table'] as const;
  protected readonly save = computed(() => SAVE_TEXTS[this.store.saveState()]);
  protected readonly sequenceName = computed(() => Object.values(this.store.project()?.sequences ?? {})[0]?.name ?? '');

  /** Whether focus is moved by the keyboard at the moment; a button clicked with the mouse leaves Space to the transport. */
  protected walking = false;

  constructor() {
    effect(() => (document.documentElement.dataset['theme'] = this.viewing.theme()));
    effect(() => {
      const grey = this.viewing.surround();
      document.documentElement.style.setProperty('--surround', `rgb(${grey} ${grey} ${grey})`);
    });
    this.store.conflicts$.subscribe((conflict) => void this.askAbout(conflict));
    void this.open();
  }

  /** Opens the project named in the address, else the newest one. */
  protected async open(): Promise<void> {
    const named = new URLSearchParams(location.search).get('project');
    try {
      const id = named ?? (await this.api.get<{ items: { id: string }[] }>('/projects?limit=1')).items[0]?.id;
      if (id === undefined) this.store.failure.set('There is no project yet. Make an empty one to begin.');
      else await this.store.open(id);
    } catch (error) {
      this.store.failure.set((error as Error).message);
    }
  }

  protected async makeEmpty(): Promise<void> {
    const ids = { project: crypto.randomUUID(), set: crypto.randomUUID(), sequence: crypto.randomUUID() };
    try {
      await this.api.post('/projects', { ids, name: 'Untitled' });
      await this.store.open(ids.project);
    } catch (error) {
      this.notices.error(error);
    }
  }

  /** The pointer takes over from the keys. Gives nothing back: `false` would take the press from everything under it. */
  protected endWalking(): void {
    this.walking = false;
  }

  protected key(event: KeyboardEvent): void {
    const target = event.target as HTMLElement;
    if (event.key === 'Tab') this.walking = true;
    if (event.defaultPrevented || this.dialog.openDialogs.length > 0) return;
    if (target.matches(FOR_TYPING) && !event.ctrlKey && !event.metaKey) return;
    if (target.matches(FOR_TYPING) && /^[zayxcv]$/i.test(event.key)) return;
    // A button reached by the keyboard keeps its own key.
    if (event.key === ' ' && this.walking && target.matches('button, a')) return;
    if (document.querySelector('.mat-mdc-menu-panel')) return;
    if (this.walkingAbout.press(event, true) || this.actions.press(event)) event.preventDefault();
  }

  protected keyUp(event: KeyboardEvent): void {
    this.walkingAbout.press(event, false);
  }

  /** Files dropped anywhere are brought into the set. */
  protected drop(event: DragEvent): void {
    event.preventDefault();
    const files = [...(event.dataTransfer?.files ?? [])];
    if (files.length > 0) void this.bringing.bringIn(files);
  }

  protected resizePicture(event: PointerEvent): void {
    const { picture } = this.viewing.layout();
    const height = (event.currentTarget as HTMLElement).parentElement?.clientHeight ?? 1;
    followDrag(
      event,
      ({ dy }) => this.setLayout({ picture: Math.max(0.3, Math.min(0.85, picture + dy / height)) }),
      () => undefined,
    );
  }

  protected resizeBench(event: PointerEvent): void {
    const { bench } = this.viewing.layout();
    followDrag(
      event,
      ({ dx }) => this.setLayout({ bench: Math.max(280, Math.min(560, bench - dx)) }),
      () => undefined,
    );
  }

  private setLayout(parts: Partial<{ picture: number; bench: number }>): void {
    this.viewing.layout.update((layout) => ({ ...layout, ...parts }));
  }

  private async askAbout(conflict: Parameters<ProjectStore['settle']>[0]): Promise<void> {
    const { ConflictDialog } = await import('./conflict-dialog');
    const dialog = this.dialog.open(ConflictDialog, { width: '560px', data: conflict, disableClose: true });
    dialog.afterClosed().subscribe((whose) => void this.store.settle(conflict, whose === 'mine' ? 'mine' : 'theirs'));
  }
}
