import { ErrorHandler, inject, Injectable } from '@angular/core';
import { Notices } from '../data';

/** How browsers say that a part of the application could not be fetched. */
const NOT_FETCHED = /dynamically imported module|module script|NG0?750/i;
/** Said by browsers where nothing is wrong: what was left for the next frame is done then. */
const HARMLESS = 'ResizeObserver loop';

/** Tells the person what nobody expected: nothing fails in silence. */
@Injectable()
export class UnexpectedErrors extends ErrorHandler {
  private readonly notices = inject(Notices);

  override handleError(error: unknown): void {
    const said = error instanceof Error ? error.message : String(error);
    if (said.includes(HARMLESS)) return;
    super.handleError(error);
    this.notices.error(
      new Error(
        NOT_FETCHED.test(said)
          ? 'The server does not answer, and this has not been fetched yet. Try again in a moment.'
          : `Something went wrong that should not: ${said || 'nothing more is known'}. Your work is kept; if the screen looks wrong, reload it.`,
      ),
    );
  }
}
