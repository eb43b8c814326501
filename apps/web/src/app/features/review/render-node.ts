import { defer, lastValueFrom, switchMap } from 'rxjs';
import { retryWithPauses } from '../../data';
import { renderer } from './renderer';

/** While nothing is to be made, or the server is away, it is asked again after so long, milliseconds. */
const [IDLE_MS, AWAY_MS] = [1500, 3000] as const;

const pause = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

/** Makes frames of whatever is first in line, for as long as this page lives: a renderer without a screen. */
export async function renderForEver(): Promise<void> {
  document.title = 'Arvex renderer';
  const name = new URLSearchParams(location.search).get('name') ?? crypto.randomUUID();
  const working = renderer().pipe(
    switchMap((one) =>
      defer(async () => {
        // Whoever has started this page looks here, and takes other graphics where these draw wrong.
        const wrong = await one.ask((remote) => remote.control()).catch((error: unknown) => (error as Error).message);
        document.body.dataset['control'] = wrong ?? 'right';
        if (wrong !== undefined) throw new Error(`The control picture is wrong: ${wrong}.`);
        for (;;) await pause((await one.ask((remote) => remote.work(name))).kind === 'idle' ? IDLE_MS : AWAY_MS);
      }),
    ),
    retryWithPauses(() => undefined),
  );
  await lastValueFrom(working);
}
