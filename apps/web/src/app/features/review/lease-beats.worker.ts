import { expose } from 'comlink';
import { BeatsHere } from './lease-beats';

// A renderer's own thread stands still while its graphics draw: this one does not.
addEventListener('message', ({ data }: MessageEvent<MessagePort>) => expose(new BeatsHere(), data));
