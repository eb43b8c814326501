export * from '../error';
export * from './cdl-files';
export * from './cube';
export * from './look-text';
export * from './read-look';
