export { CameraList } from './camera-list';
