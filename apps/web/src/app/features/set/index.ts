export { Framing } from './frame-selection';
export { BringingIn } from './imports';
export { PieceDragging } from './piece-drag';
export { PieceMaking } from './pieces';
export { PlanTools } from './plan-tools';
export { Walking } from './walk';
