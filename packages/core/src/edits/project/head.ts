import type { Edit } from '../edit';
import { patching } from '../edit';
import type { Project, ProjectHead } from '../../model';

/** Changes settings of the project as a whole, named for undo by `what`. */
export function setHead(project: Project, what: string, parts: Partial<Omit<ProjectHead, 'id' | 'revision'>>): Edit {
  return { name: what, operations: [patching(project, 'project', project.head.id, parts)] };
}
