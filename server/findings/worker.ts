import { audit, checkContext } from '../../core/checks';
import type { Estate } from '../../core/estate';
import type { AuditTask } from './store';

export = ({ shared, nowMs }: AuditTask) => {
  const text = new TextDecoder().decode(new Uint8Array(shared).slice());
  return audit(checkContext(JSON.parse(text) as Estate, nowMs));
};
