import { computed, inject, Injectable, linkedSignal, untracked } from '@angular/core';
import type { Cut } from '@arvex/core';
import { cutOf, sequencesInOrder } from '@arvex/core';
import { ProjectStore, recall, remember } from '../data';
import { Tried } from './tried';
import * as z from 'zod';

const NO_CUT: Cut = { shots: [], frameCount: 0 };

/** Which sequence is open, and its cut: with what is tried on it and not kept yet. */
@Injectable({ providedIn: 'root' })
export class OpenSequence {
  private readonly store = inject(ProjectStore);
  private readonly tried = inject(Tried);
  private readonly projectId = computed(() => this.store.project()?.head.id);
  /** A project is entered at the sequence that was open in it, else at its first one: that one stays open though others are added before it. */
  private readonly chosen = linkedSignal<string | undefined>(() => {
    const id = this.projectId();
    const project = untracked(this.store.project);
    if (id === undefined || !project) return undefined;
    return recall(keyOf(id), z.string()) ?? sequencesInOrder(project)[0]?.id;
  });

  readonly sequence = computed(() => {
    const project = this.store.project();
    return project && (project.sequences[this.chosen() ?? ''] ?? sequencesInOrder(project)[0]);
  });
  readonly id = computed(() => this.sequence()?.id ?? '');

  /** The project with what is tried on its cut. What cannot be tried any more, because somebody changed what it is about, is not. */
  readonly project = this.tried.cutProject;
  readonly cut = computed<Cut>(() => {
    const project = this.project();
    return project ? cutOf(project, this.id()) : NO_CUT;
  });
  readonly hasShots = computed(() => this.cut().shots.length > 0);

  open(sequenceId: string): void {
    this.tried.cut.end();
    this.chosen.set(sequenceId);
    const id = this.projectId();
    if (id !== undefined) remember(keyOf(id), sequenceId);
  }
}

const keyOf = (projectId: string): string => `sequence.${projectId}`;
