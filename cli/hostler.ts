import { audit } from './audit';
import { backup, restoreBackup } from './backup';
import { check } from './check';
import { cpl } from './cpl';
import { desks } from './desks';
import { dial } from './dial';
import { doctor } from './doctor';
import { drill } from './drill';
import { exportEstate, importEstate } from './estate';
import { fail, type Command } from './io';
import { letSomebodyIn } from './let-in';
import { path } from './path';
import { prove } from './prove';
import { callQuality } from './quality';
import { cost, replay, times } from './records';
import { rotate } from './rotate-key';
import { route } from './route';
import { seats } from './seats';
import { tryCalls } from './try';
import { vcards } from './vcard';

const COMMANDS: Readonly<Record<string, Command>> = {
  check: { usage: 'check --estate FILE', run: check },
  try: { usage: 'try --estate FILE --call FILE [--json]', run: tryCalls },
  import: { usage: 'import --estate FILE', run: importEstate },
  vcard: { usage: 'vcard --estate FILE [--person ID]', run: vcards },
  dial: { usage: 'dial --estate FILE --number TEXT [--person ID] [--json | --uri [--host HOST]]', run: dial },
  route: { usage: 'route --table FILE (--call FILE | --analyse) [--json]', run: route },
  audit: { usage: 'audit --estate FILE [--at TIME] [--json | --sarif]', run: audit },
  drill: { usage: 'drill --estate FILE --drills FILE [--json | --junit]', run: drill },
  prove: {
    usage: 'prove --estate FILE [--person ID] [--promise FILE] [--at TIME] [--json]',
    run: prove,
  },
  path: { usage: 'path --network FILE [--phone ID] [--with ID] [--recommend] [--json]', run: path },
  quality: {
    usage:
      'quality --delay MS --jitter MS --loss PERCENT [--burst N] --codec NAME [--buffer MS] [--packet MS] [--json]',
    run: callQuality,
  },
  times: { usage: 'times --records FILE [--endpoint ID] [--json]', run: times },
  replay: { usage: 'replay --estate FILE [--after FILE] --records FILE [--json]', run: replay },
  cost: { usage: 'cost --tariff FILE --records FILE [--estate FILE] [--json]', run: cost },
  seats: {
    usage: 'seats --calls PER_HOUR --handle S (--seats N [--within S] [--patience S] | --trunk N) [--json]',
    run: seats,
  },
  desks: {
    usage: 'desks --estate FILE --site ID [--week YYYY-MM-DD] [--chance P] [--json]',
    run: desks,
  },
  cpl: { usage: 'cpl --estate FILE --person ID [--script FILE] [--domain NAME]', run: cpl },
  doctor: { usage: 'doctor [--json]', run: doctor },
  backup: { usage: 'backup --to FOLDER [--untried]', run: backup },
  restore: {
    usage: 'restore --from FOLDER [--replace] [--until TIME --logs FOLDER]',
    run: restoreBackup,
  },
  'rotate-key': { usage: 'rotate-key [--forget-old] [--forget-lost]', run: rotate },
  'let-in': {
    usage: 'let-in --account NAME [--from ADDRESS] [--new-password] [--without-second-factor]',
    run: letSomebodyIn,
  },
  export: { usage: 'export [--estate FILE]', run: exportEstate },
};

const usage = () =>
  `usage: npm run -s hostler -- COMMAND\n${Object.values(COMMANDS)
    .map((command) => `  ${command.usage}`)
    .join('\n')}\nFILE may be - for standard input or output.`;

async function main(): Promise<number> {
  const [name = '', ...args] = process.argv.slice(2);
  const command = Object.hasOwn(COMMANDS, name) ? COMMANDS[name] : undefined;
  if (!command) {
    process.stderr.write(`${usage()}\n`);
    return 2;
  }
  return command.run(args);
}

main().then(
  (code) => {
    process.exitCode = code;
  },
  (error: unknown) => {
    process.exitCode = fail(error instanceof Error ? error.message : String(error));
  },
);
