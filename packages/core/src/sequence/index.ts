export * from './camera-lane';
export * from './cut';
export * from './handles';
export * from './heard';
export * from './picture-at';
export * from './shot-time';
export * from './speed';
export * from './transitions';
