export { Imports } from './imports';
export { PieceDrag } from './piece-drag';
export { SetPieces } from './pieces';
export { PlanTools } from './plan-tools';
export { PuttingPrompt } from './putting-prompt';
export { provideSet } from './provide-set';
export { Walk } from './walk';
export { StartPanel } from './start-panel';
