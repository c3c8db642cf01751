import { audit, checkContext } from '../../core/checks';
import type { Estate } from '../../core/estate';
import { readShared } from '../shared-json';
import type { AuditTask } from './store';

export = ({ shared, nowMs }: AuditTask) => audit(checkContext(readShared<Estate>(shared), nowMs));
