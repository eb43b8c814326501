import * as z from 'zod';
import { changeSchema } from '../model';

/** A project in the list of projects. */
export const projectSummarySchema = z.object({
  id: z.uuid(),
  name: z.string(),
  seq: z.number(),
  createdAt: z.string(),
});
export type ProjectSummary = z.infer<typeof projectSummarySchema>;

/** The project that is asked for: ids are made where they are used first. */
export const newProjectOrderSchema = z.object({
  ids: z.object({ project: z.uuid(), set: z.uuid(), sequence: z.uuid() }),
  name: z.string().trim().min(1).max(120),
});

/** The copy of a project that is asked for. */
export const copyOrderSchema = z.object({ id: z.uuid(), name: z.string().trim().min(1).max(120) });

/** The answer to a change: its place in the history, and the change itself where it was brought up to a later revision. */
export const changeAnswerSchema = z.object({ seq: z.number().int(), change: changeSchema.optional() });

/** How much room a project takes on the disk with its history and its renders, and how much is left, bytes. */
export const roomSchema = z.object({
  projectBytes: z.number().min(0),
  freeBytes: z.number().min(0),
  /** Where orders that go to a folder lie, on the server's machine. */
  outputFolder: z.string(),
});
export type RoomTaken = z.infer<typeof roomSchema>;
