export { Movie } from './movie';
export { provideReview } from './provide-review';
export { Renders } from './renders';
