/** The form in which projects and changes are written now; `upgrade.ts` brings earlier ones up to it. */
export const FORM = 5;
