import { expose } from 'comlink';
import { StageDesk } from './stage-desk';

expose(new StageDesk());
