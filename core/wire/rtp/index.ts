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
