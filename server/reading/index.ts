export {
  readEstateInPool,
  readRoundListInPool,
  readScriptInPool,
  readTableInPool,
  readWavInPool,
} from './pool';
