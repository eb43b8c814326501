/** Points of a subject that a camera may look at or focus on. */
export const SUBJECT_POINTS = ['eyes', 'middle', 'top', 'foot'] as const;

export type SubjectPoint = (typeof SUBJECT_POINTS)[number];
