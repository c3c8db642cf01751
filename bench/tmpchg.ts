import { changesBench } from './changes.bench';
import { phonesBench } from './phones.bench';
const line = (what: string, figure: string, aim = '') => process.stdout.write(`${what.padEnd(64)} ${figure.padStart(14)}  ${aim}\n`);
void (async () => { await changesBench(line); await phonesBench(line); process.exit(0); })();
