/** What an audience may stumble over at a joint, or in a shot. */
type AdviceCode =
  'line-crossed' | 'jump' | 'eyelines' | 'screen-direction' | 'pair-differs' | 'too-short' | 'cut-on-move';

/** Something to look at. It never keeps anybody from anything. */
export interface Advice {
  readonly code: AdviceCode;
  /** The shot that it is about; of two that meet, the second. */
  readonly shotId: string;
  /** Of two that meet, the first. */
  readonly beforeId: string | undefined;
  /** What is so, with its figures. */
  readonly message: string;
  /** What is usual, and so why it is said. */
  readonly reason: string;
}
