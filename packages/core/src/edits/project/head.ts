import type { Project, ProjectHead } from '../../model';
import type { Edit } from '../edit';
import { patching } from '../edit';

/** Changes settings of the project as a whole, named for undo by `what`. */
export function setHead(project: Project, what: string, parts: Partial<Omit<ProjectHead, 'id' | 'revision'>>): Edit {
  return { name: what, operations: [patching(project, 'project', project.head.id, parts)] };
}
