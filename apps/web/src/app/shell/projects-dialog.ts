import { DatePipe } from '@angular/common';
import { ChangeDetectionStrategy, Component, computed, inject, signal } from '@angular/core';
import { MatDialogModule, MatDialogRef } from '@angular/material/dialog';
import { MatIcon } from '@angular/material/icon';
import type { ProjectSummary } from '@arvex/core';
import { setHead } from '@arvex/core';
import { Notices, Projects, ProjectStore } from '../data';
import { bytesText, IconButton, NameField, SearchField } from '../ui';

/** All projects: the open one is named here, others are opened, copied and deleted, and new ones made. */
@Component({
  selector: 'arvex-projects-dialog',
  imports: [DatePipe, IconButton, MatDialogModule, MatIcon, NameField, SearchField],
  changeDetection: ChangeDetectionStrategy.OnPush,
  templateUrl: './projects-dialog.html',
  styleUrl: './projects-dialog.scss',
})
export class ProjectsDialog {
  private readonly projects = inject(Projects);
  private readonly store = inject(ProjectStore);
  private readonly notices = inject(Notices);
  private readonly dialog = inject<MatDialogRef<ProjectsDialog>>(MatDialogRef);

  protected readonly all = signal<readonly ProjectSummary[] | undefined>(undefined);
  protected readonly words = signal('');
  protected readonly busy = signal(false);
  /** The project whose deletion is asked about, and what that frees. */
  protected readonly asked = signal<{ readonly project: ProjectSummary; readonly frees: string } | undefined>(
    undefined,
  );
  protected readonly head = computed(() => this.store.project()?.head);
  protected readonly shown = computed(() => {
    const words = this.words().toLowerCase().split(/\s+/).filter(Boolean);
    return (this.all() ?? []).filter(({ name }) => words.every((word) => name.toLowerCase().includes(word)));
  });

  constructor() {
    void this.done(() => Promise.resolve());
  }

  protected rename(name: string): void {
    const project = this.store.project();
    if (!project) return;
    this.store.commit(setHead(project, `Name the project ${name}`, { name }));
    const { id } = project.head;
    this.all.update((all) => all?.map((one) => (one.id === id ? { ...one, name } : one)));
  }

  protected async open({ id }: ProjectSummary): Promise<void> {
    await this.done(() => this.projects.open(id));
    this.dialog.close();
  }

  /** The first that the words find. */
  protected openFirst(): void {
    const [first] = this.shown();
    if (first && !this.busy()) void this.open(first);
  }

  /** From the box into the list, and up and down in it; above the first is the box again. */
  protected toProject(event: Event, by: 1 | -1): void {
    event.preventDefault();
    const dialog = (event.target as HTMLElement).closest('mat-dialog-content');
    const stops = [...(dialog?.querySelectorAll<HTMLElement>('input[type="search"], button.name') ?? [])];
    stops[stops.indexOf(event.target as HTMLElement) + by]?.focus();
  }

  protected async make(): Promise<void> {
    await this.done(() => this.projects.make('Untitled'));
    this.dialog.close();
  }

  protected copy(project: ProjectSummary): void {
    void this.done(() => this.projects.copy(project));
  }

  /** Asks first, with what it frees: a project that is deleted is gone for good. */
  protected async ask(project: ProjectSummary): Promise<void> {
    this.asked.set({ project, frees: '' });
    const bytes = await this.projects.bytesOf(project.id).catch(() => undefined);
    if (this.asked()?.project.id === project.id) {
      this.asked.set({ project, frees: bytes === undefined ? '' : bytesText(bytes) });
    }
  }

  protected delete({ id }: ProjectSummary): void {
    this.asked.set(undefined);
    void this.done(() => this.projects.delete(id));
  }

  /** Does something, and shows what there is then; what goes wrong is said. */
  private async done(work: () => Promise<void>): Promise<void> {
    this.busy.set(true);
    try {
      await work();
      this.all.set(await this.projects.list());
    } catch (error) {
      this.notices.error(error);
    } finally {
      this.busy.set(false);
    }
  }
}
