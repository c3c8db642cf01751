// Part of `npm run build`: what runs as a service, each in one plain script.
import { bundleScripts, say } from './steps.mjs';

say(`scripts: ${await bundleScripts()}`);
