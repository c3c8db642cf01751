import { provePromises } from '../../core/promises';
import type { ProofTask } from './pool';

export = ({ slice, person, promises, scope }: ProofTask) => provePromises(slice, person, promises, scope);
