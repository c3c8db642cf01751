import { audit, checkContext } from '../../core/assurance/checks';
import type { Estate } from '../../core/estate';
import { readShared } from '../base';
import type { AuditTask } from './store';

export = ({ shared, nowMs }: AuditTask) => audit(checkContext(readShared<Estate>(shared), nowMs));
