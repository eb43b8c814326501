export { Movie } from './movie';
export { Proof } from './proof';
export { ProofView } from './proof-view';
export { provideReview } from './provide-review';
export { Renders } from './renders';
