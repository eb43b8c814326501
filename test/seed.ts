import fc from 'fast-check';

/**
 * Properties draw the same cases in every run, so that a failure is of the change at hand and is there again tomorrow.
 * `npm run seeds` sets `ARVEX_SEED=new` and draws others; `ARVEX_SEED=<number>` draws those of a failure it reported.
 */
const FIXED = 1001;

const asked = process.env['ARVEX_SEED'];
if (asked !== 'new') fc.configureGlobal({ ...fc.readConfigureGlobal(), seed: Number(asked ?? FIXED) });
