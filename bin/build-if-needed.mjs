// Builds the browser application unless what it is built from is as it was.
import { ensureBuild } from './steps.mjs';

ensureBuild();
