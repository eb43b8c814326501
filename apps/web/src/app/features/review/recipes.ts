import { computed, inject, Injectable, signal } from '@angular/core';
import type { Recipe, RenderOrder } from '@arvex/core';
import { FIRST_RECIPES, pageOf, recipeFrom, recipeSchema } from '@arvex/core';
import * as z from 'zod';
import { Api, Notices } from '../../data';

/** Orders kept under a name, for every project. */
@Injectable({ providedIn: 'root' })
export class Recipes {
  private readonly api = inject(Api);
  private readonly notices = inject(Notices);
  private readonly kept = signal<readonly Recipe[]>([]);

  /** Those that are there from the start, and one's own; one's own of the same name stands in the place of the first. */
  readonly all = computed(() => {
    const own = this.kept();
    const first = FIRST_RECIPES.map((one) => own.find(({ name }) => name === one.name) ?? one);
    return [...first, ...own.filter((one) => !first.includes(one))];
  });

  /** Whether a recipe was there from the start, and is as it was. */
  isFirst(recipe: Recipe): boolean {
    return FIRST_RECIPES.includes(recipe);
  }

  async refresh(): Promise<void> {
    await this.told(async () => {
      const { items } = await this.api.get('/recipes?limit=200', pageOf(recipeSchema));
      this.kept.set(items);
    });
  }

  /** Keeps an order under a name; one's own of the same name is replaced. */
  async keep(order: RenderOrder, name: string): Promise<void> {
    const id = this.kept().find((one) => one.name === name)?.id ?? crypto.randomUUID();
    const { id: _id, ...recipe } = recipeFrom(order, id, name);
    await this.told(async () => {
      await this.api.put(`/recipes/${id}`, recipe, z.unknown());
      this.notices.done(`The recipe ${name} is kept, for this and every other project.`);
    });
    await this.refresh();
  }

  async delete({ id, name }: Recipe): Promise<void> {
    await this.told(async () => {
      await this.api.delete(`/recipes/${id}`, z.unknown());
      this.notices.done(`The recipe ${name} is deleted. What was rendered by it stays.`);
    });
    await this.refresh();
  }

  private async told(work: () => Promise<void>): Promise<void> {
    try {
      await work();
    } catch (error) {
      this.notices.error(error);
    }
  }
}
