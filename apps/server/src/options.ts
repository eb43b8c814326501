import { homedir } from 'node:os';
import { join, resolve } from 'node:path';
import { parseArgs } from 'node:util';

/** How the server was asked to start. */
export interface StartOptions {
  readonly port: number;
  readonly dataDirectory: string;
  /** Where orders that go to a folder lie. */
  readonly outputDirectory: string;
  /** What a first start puts in: the demo, an empty project, or nothing. */
  readonly first: 'demo' | 'empty' | 'nothing';
  /** Renderers without a screen that make frames while no tab is open. */
  readonly renderers: number;
}

const DEFAULT_PORT = 4680;
const MOST_RENDERERS = 16;

export const HELP = `Usage: ./start [options]

  --port N       port of the application on this machine (default ${DEFAULT_PORT})
  --data DIR     where everything is kept (default $ARVEX_DATA, else ~/.local/share/arvex)
  --output DIR   where output that goes to a folder lies (default $ARVEX_OUTPUT, else the folder output of the data)
  --renderers N  so many renderers make frames on this machine, with no tab open (default 0, at most 16)
  --empty        a first start makes an empty project instead of the demo
  --no-demo      a first start makes no project at all
  --help         this text

Ctrl+C stops the application and its database.`;

/** Reads the command line. @throws Error with one plain sentence. */
export function readOptions(args: readonly string[], environment: NodeJS.ProcessEnv): StartOptions | 'help' {
  const { values } = parseArgs({
    args: [...args],
    options: {
      port: { type: 'string' },
      data: { type: 'string' },
      output: { type: 'string' },
      renderers: { type: 'string' },
      empty: { type: 'boolean', default: false },
      'no-demo': { type: 'boolean', default: false },
      help: { type: 'boolean', short: 'h', default: false },
    },
  });
  if (values.help) return 'help';
  const port = Number(values.port ?? DEFAULT_PORT);
  if (!Number.isInteger(port) || port < 1 || port > 65_535) {
    throw new Error(`"${values.port}" is not a port. Give a whole number from 1 to 65535.`);
  }
  const renderers = Number(values.renderers ?? 0);
  if (!Number.isInteger(renderers) || renderers < 0 || renderers > MOST_RENDERERS) {
    throw new Error(
      `"${values.renderers}" is no number of renderers. Give a whole number from 0 to ${MOST_RENDERERS}.`,
    );
  }
  const kept = environment['ARVEX_DATA'] || join(homedir(), '.local', 'share', 'arvex');
  const dataDirectory = resolve(values.data ?? kept);
  return {
    port,
    renderers,
    dataDirectory,
    outputDirectory: resolve(values.output ?? (environment['ARVEX_OUTPUT'] || join(dataDirectory, 'output'))),
    first: values.empty ? 'empty' : values['no-demo'] ? 'nothing' : 'demo',
  };
}
