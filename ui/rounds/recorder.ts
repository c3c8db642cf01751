import { writeWav } from '../../core/formats';

/** A recording that goes on at the microphone. */
export interface Recorder {
  /** Ends it. @returns a WAV file of one channel */
  readonly stop: () => Promise<ArrayBuffer>;
  readonly cancel: () => void;
}

/** What the server makes of it is 8000 samples a second: twice that keeps all it can hear. */
const RATE = 16_000;

/** Begins to record. @throws where there is no microphone or it is not allowed */
export async function startRecorder(): Promise<Recorder> {
  const stream = await navigator.mediaDevices.getUserMedia({ audio: true });
  const letGo = () => stream.getTracks().forEach((track) => track.stop());
  const recorder = new MediaRecorder(stream);
  const parts: Blob[] = [];
  recorder.addEventListener('dataavailable', ({ data }) => parts.push(data));
  recorder.start(250);
  return {
    cancel: () => {
      recorder.stop();
      letGo();
    },
    stop: async () => {
      await new Promise<void>((resolve) => {
        recorder.addEventListener('stop', () => resolve(), { once: true });
        recorder.stop();
      });
      letGo();
      return asWav(await new Blob(parts).arrayBuffer());
    },
  };
}

async function asWav(packed: ArrayBuffer): Promise<ArrayBuffer> {
  const decoded = await new OfflineAudioContext(1, RATE, RATE).decodeAudioData(packed);
  const context = new OfflineAudioContext(1, Math.max(1, Math.ceil(decoded.duration * RATE)), RATE);
  const source = context.createBufferSource();
  source.buffer = decoded;
  source.connect(context.destination);
  source.start();
  const samples = (await context.startRendering()).getChannelData(0);
  const wav = writeWav(
    Int16Array.from(samples, (sample) => Math.max(-1, Math.min(1, sample)) * 32_767),
    RATE,
  );
  return wav.buffer as ArrayBuffer;
}

/** Why a microphone cannot be used, in words. */
export const sayNoMicrophone = (error: unknown): string =>
  error instanceof DOMException && error.name === 'NotAllowedError'
    ? 'The browser does not let this page use the microphone. Allow it, or upload a WAV file.'
    : 'There is no microphone that can be used. Upload a WAV file instead.';
