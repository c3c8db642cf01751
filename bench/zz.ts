import { callsBench } from './calls.bench';
void callsBench((w, f, a = '') => console.log(w.padEnd(60), f, a));
