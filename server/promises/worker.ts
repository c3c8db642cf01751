import { provePromises } from '../../core/assurance/promises';
import type { ProofTask } from './pool';

export = ({ slice, person, promises, scope }: ProofTask) => provePromises(slice, person, promises, scope);
