export {
  movedBack,
  movedOver,
  phonesByRelay,
  relaySteps,
  whenRelayStops,
  type RelayLoss,
  type RelayStep,
} from './relay';
