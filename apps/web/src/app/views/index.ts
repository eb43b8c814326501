export { ViewTabs } from './view-tabs';
