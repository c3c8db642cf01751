export {
  keyPackets,
  keyReader,
  parseKeyEvent,
  parseRtp,
  writeKeyEvent,
  writeRtp,
  type KeyEvent,
  type RtpPacket,
} from './rtp';
export { type Beep, beepReader, fromMuLaw, pureTone, SAMPLES_PER_S, toMuLaw, toneMuLaw } from './mu-law';
