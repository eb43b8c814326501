import { Observable } from 'rxjs';
import type { OpenDesk } from './open-desk';

/** Small works on the stage that wait their turn: each is given up when nobody listens to it any more. */
export class Errands {
  private readonly waiting: ((desk: OpenDesk) => Promise<void>)[] = [];

  /** @param asked told whenever there is one more. */
  constructor(private readonly asked: () => void) {}

  get size(): number {
    return this.waiting.length;
  }

  /** Does something with the desk once its turn has come. */
  of<T>(work: (desk: OpenDesk) => Promise<T>): Observable<T> {
    return new Observable((listener) => {
      const make = async (desk: OpenDesk) => {
        try {
          listener.next(await work(desk));
          listener.complete();
        } catch (error) {
          listener.error(error);
        }
      };
      this.waiting.push(make);
      this.asked();
      return () => {
        const index = this.waiting.indexOf(make);
        if (index >= 0) this.waiting.splice(index, 1);
      };
    });
  }

  /** Does the one that was asked for first. */
  async doFirst(desk: OpenDesk): Promise<void> {
    await this.waiting.shift()?.(desk);
  }

  /** Does the one that was asked for last. */
  async doLast(desk: OpenDesk): Promise<void> {
    await this.waiting.pop()?.(desk);
  }
}
