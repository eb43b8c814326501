export * from './shots';
