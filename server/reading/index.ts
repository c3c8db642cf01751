export {
  readEstateInPool,
  readRostersInPool,
  readRoundListInPool,
  readScriptInPool,
  readTableInPool,
  readWavInPool,
} from './pool';
