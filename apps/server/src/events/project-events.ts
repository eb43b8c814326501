/** A change with more text than this is not sent to everybody: they are told that there is one, and fetch it. */
const MOST_TEXT = 256 * 1024;

/** What the browsers that have a project open are told: the event's name, and its data as JSON. */
export interface ProjectEvent {
  readonly kind: 'change' | 'render' | 'hello';
  readonly json: string;
}

/** What is told of a change that was applied, of which this is the JSON; of a large one, only how far the project is. */
export function changeEvent(seq: number, json: string): ProjectEvent {
  return json.length > MOST_TEXT ? helloEvent(seq) : { kind: 'change', json };
}

/** How far a project is. */
export function helloEvent(seq: number): ProjectEvent {
  return { kind: 'hello', json: JSON.stringify({ seq }) };
}

/** What is told of a render that is asked for, goes on or ends. */
export function renderEvent(renderId: string): ProjectEvent {
  return { kind: 'render', json: JSON.stringify({ renderId }) };
}

/**
 * Tells every listener of a project what happens to it. Nothing is kept: whoever was away asks for the changes after its last. What is
 * published is told to all listeners in the order in which it was published, and to those of every process.
 */
export interface ProjectEvents {
  publish(projectId: string, event: ProjectEvent): void;
  /** @returns a function that ends the subscription. */
  subscribe(projectId: string, listener: (event: ProjectEvent) => void): () => void;
}
