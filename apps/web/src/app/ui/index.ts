export { AmountRow } from './amount-row';
export { AngleField } from './angle-field';
export { ActionButton } from './action-button';
export { cameraColour } from '@arvex/core';
export { Card } from './card';
export { Chart } from './chart';
export type { Choice } from './choice-field';
export { ChoiceField, choicesOf } from './choice-field';
export type { Drag } from './dragging';
export { DurationField } from './duration-field';
export { Divider } from './divider';
export { followDrag } from './dragging';
export { LengthField } from './length-field';
export { LevelRow } from './level-row';
export { NameField } from './name-field';
export { NumberField, PERCENT } from './number-field';
export {
  cameraLine,
  bytesText,
  durationText,
  evText,
  ndText,
  focalLengthText,
  rateText,
  sharpText,
  shutterText,
  signedDegrees,
  stopText,
} from './read-outs';
export type { BenchCard } from './cards';
export { CARDS, Cards } from './cards';
export { Contributed } from './contributed';
export { IconButton } from './icon-button';
export { ownsKey } from './own-keys';
export { FOR_TYPING, letGoBeforePresses } from './typing';
export { Reveal } from './reveal';
export { SearchField } from './search-field';
export type { SwitchChoice } from './switch';
export { Switch, switchChoices } from './switch';
export { VectorRow } from './vector-row';
