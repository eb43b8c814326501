export { provideViews } from './provide-views';
export { Reel } from './reel';
export { ViewTabs } from './view-tabs';
