import {
  ChangeDetectionStrategy,
  Component,
  computed,
  DestroyRef,
  effect,
  ElementRef,
  inject,
  untracked,
} from '@angular/core';
import { MatDialog } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import { firstValueFrom, race, timer } from 'rxjs';
import { fetchAhead, fetched, Notices, Projects, ProjectStore, UndoList } from './data';
import { Pictures } from './drawing';
import { AutoFocus } from './features/cameras';
import { SoundPlayer } from './features/sequence';
import { FilesIn } from './features/interchange';
import { PuttingPrompt, Walk } from './features/set';
import { Checks } from './readiness';
import type { Step } from './session';
import { Help } from './actions';
import { Actions, BENCH_PX, Selection, Viewpoint, Workspace } from './session';
import { NoticeList } from './shell/notice-list';
import { TopBar } from './shell/top-bar';
import { ActionButton, Contributed, Divider, FOR_TYPING, letGoBeforePresses, ownsKey } from './ui';
import { Reel, ViewTabs } from './views';

/** Code for later is fetched after the first picture, or so long after the beginning where there is none. */
const LATEST_AHEAD_MS = 5000;

/** The application: steps, picture with its instruments, second view, bench and reel. */
@Component({
  selector: 'arvex-app',
  imports: [ActionButton, Contributed, Divider, MatIcon, NoticeList, PuttingPrompt, Reel, TopBar, ViewTabs],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './app.html',
  styleUrl: './app.scss',
  host: {
    '(window:keydown)': 'key($event)',
    '(window:keyup)': 'keyUp($event)',
    '(window:dragover)': '$event.preventDefault()',
    '(window:drop)': 'drop($event)',
    '(window:pointerdown)': 'pointed()',
    '[class.bench-open]': 'workspace.benchOpen()',
    '[class.folded]': '!lowerShown()',
    '[class.whole]': 'workspace.whole()',
    '[class.showing]': 'workspace.showing()',
    '[style.--bench-width]': 'benchWidth()',
    '[style.--picture-share]': 'workspace.pictureShare()',
  },
})
export class App {
  private readonly projects = inject(Projects);
  private readonly dialog = inject(MatDialog);
  protected readonly store = inject(ProjectStore);
  protected readonly workspace = inject(Workspace);
  private readonly actions = inject(Actions);
  protected readonly checks = inject(Checks);
  private readonly notices = inject(Notices);
  private readonly viewpoint = inject(Viewpoint);
  private readonly selection = inject(Selection);
  private readonly walk = inject(Walk);
  private readonly filesIn = inject(FilesIn);
  private readonly help = inject(Help);

  /** What the two views show, in the order of all views, so that nothing is made anew when they change round. */
  protected readonly views = computed(() => this.workspace.allViews.filter(({ id }) => this.workspace.shows(id)));
  protected readonly step = computed(() => {
    const { steps } = this.workspace;
    return steps.find(({ id }) => id === this.workspace.step()) ?? (steps[0] as Step);
  });

  /** As it was left; one that nobody has touched grows with a wide window. */
  protected readonly benchWidth = computed(() => {
    const { bench } = this.workspace.layout();
    return bench === BENCH_PX ? `clamp(${BENCH_PX}px, 21vw, 420px)` : `${bench}px`;
  });

  /** Whether there is anything below the picture. */
  protected readonly lowerShown = computed(
    () =>
      !this.workspace.whole() &&
      !this.workspace.showing() &&
      (!this.workspace.folded() || this.step().lower !== undefined),
  );

  /** Whether the focus is moved by keys at the moment. */
  private byKeys = false;
  private entered = '';

  constructor() {
    inject(UndoList); // hears of every edit
    inject(AutoFocus); // measures from the beginning
    inject(SoundPlayer); // so does what is heard
    inject(DestroyRef).onDestroy(letGoBeforePresses(inject<ElementRef<HTMLElement>>(ElementRef).nativeElement));
    effect(() => (document.documentElement.dataset['theme'] = this.workspace.theme()));
    effect(() => {
      const grey = this.workspace.surround();
      document.documentElement.style.setProperty('--surround', `rgb(${grey} ${grey} ${grey})`);
    });
    // A project with nothing in it yet begins in the set.
    effect(() => {
      const project = this.store.project();
      if (!project || project.head.id === this.entered) return;
      const isAnother = this.entered !== '';
      this.entered = project.head.id;
      // What was chosen or said belongs to the project before.
      untracked(() => {
        if (isAnother) this.notices.clear();
        this.selection.set();
      });
      const isEmpty = Object.keys(project.placements).length + Object.keys(project.cameras).length === 0;
      if (!isEmpty) return;
      untracked(() => {
        this.workspace.goTo('set');
        this.workspace.show('free', 'upper');
      });
    });
    race(inject(Pictures).first$, timer(LATEST_AHEAD_MS)).subscribe(fetchAhead);
    this.store.conflicts$.subscribe((conflict) => void this.askAbout(conflict));
    void this.open();
  }

  /** Opens the project named in the address, else the one that was open, else the newest one. */
  protected async open(): Promise<void> {
    try {
      await this.projects.openFirst();
    } catch (error) {
      this.store.failure.set((error as Error).message);
    }
  }

  protected async makeEmpty(): Promise<void> {
    try {
      await this.projects.make('Untitled');
    } catch (error) {
      this.notices.error(error);
    }
  }

  /** The pointer takes over from the keys. Gives nothing back: `false` would take the press from everything under it. */
  protected pointed(): void {
    this.byKeys = false;
  }

  protected key(event: KeyboardEvent): void {
    if (this.help.takes(event)) {
      event.preventDefault();
      return;
    }
    const target = event.target as HTMLElement;
    if (event.key === 'Tab') this.byKeys = true;
    if (event.defaultPrevented || this.dialog.openDialogs.length > 0) return;
    if (target.matches(FOR_TYPING) && !event.ctrlKey && !event.metaKey) return;
    if (target.matches(FOR_TYPING) && /^[zayxcv]$/i.test(event.key)) return;
    if (ownsKey(target, event, this.byKeys)) return;
    if (document.querySelector('.mat-mdc-menu-panel')) return;
    // What is being typed belongs to what is shown now, not to what the action chooses.
    const letGo = () => target.matches(FOR_TYPING) && target.blur();
    if (this.walk.press(event, true) || this.actions.press(event, letGo)) event.preventDefault();
  }

  protected keyUp(event: KeyboardEvent): void {
    this.walk.press(event, false);
  }

  /** Files that are dropped anywhere are brought in, whatever they are. */
  protected drop(event: DragEvent): void {
    event.preventDefault();
    const files = [...(event.dataTransfer?.files ?? [])];
    if (files.length > 0) void this.filesIn.take(files);
  }

  protected setBench(bench: number): void {
    this.workspace.layout.set({ bench });
  }

  private async askAbout(conflict: Parameters<ProjectStore['settle']>[0]): Promise<void> {
    // Until it is asked, nothing more is sent.
    const { ConflictDialog } = await firstValueFrom(fetched(() => import('./shell/conflict-dialog')));
    const dialog = this.dialog.open(ConflictDialog, { width: '560px', data: conflict, disableClose: true });
    dialog.afterClosed().subscribe((whose) => this.store.settle(conflict, whose === 'mine' ? 'mine' : 'theirs'));
  }
}
