export * from './exporters';
export * from './importers';
