import { knownEndpoint, type EstateIndex, type KnownEndpoint } from '../../calls/engine';

/** An endpoint of the estate; a bare number or URI as the engine takes it. */
export const knownOf = (index: EstateIndex, id: string): KnownEndpoint =>
  index.endpoints.get(id) ??
  (id.startsWith('+')
    ? knownEndpoint({ id, label: id, kind: 'mobile', number: id }, null)
    : knownEndpoint({ id, label: id, kind: 'sip', uri: id }, null));
