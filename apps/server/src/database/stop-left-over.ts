/** Ends the database that a killed server left running: `node stop-left-over.js DIRECTORY`, the database's own directory. */
import { stopLeftOver } from './left-over';

await stopLeftOver(process.argv[2] ?? '.');
