export { insertRecording, recordingOf, soundOf } from './queries';
export { recordingRoutes } from './routes';
