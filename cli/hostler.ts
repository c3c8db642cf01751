import { fail, type Command } from './io';

/** Each is loaded once it is asked for: most need little of what all need together. */
const COMMANDS: Readonly<Record<string, Command>> = {
  check: { usage: 'check --estate FILE', run: async (args) => (await import('./check')).check(args) },
  try: {
    usage: 'try --estate FILE --call FILE [--json]',
    run: async (args) => (await import('./try')).tryCalls(args),
  },
  import: {
    usage: 'import --estate FILE',
    run: async (args) => (await import('./estate')).importEstate(args),
  },
  vcard: {
    usage: 'vcard --estate FILE [--person ID]',
    run: async (args) => (await import('./vcard')).vcards(args),
  },
  dial: {
    usage: 'dial --estate FILE --number TEXT [--person ID] [--json | --uri [--host HOST]]',
    run: async (args) => (await import('./dial')).dial(args),
  },
  route: {
    usage: 'route --table FILE (--call FILE | --analyse) [--json]',
    run: async (args) => (await import('./route')).route(args),
  },
  audit: {
    usage: 'audit --estate FILE [--at TIME] [--json | --sarif]',
    run: async (args) => (await import('./audit')).audit(args),
  },
  drill: {
    usage: 'drill --estate FILE --drills FILE [--json | --junit]',
    run: async (args) => (await import('./drill')).drill(args),
  },
  prove: {
    usage: 'prove --estate FILE [--person ID] [--promise FILE] [--at TIME] [--json]',
    run: async (args) => (await import('./prove')).prove(args),
  },
  path: {
    usage: 'path --network FILE [--phone ID] [--with ID] [--recommend] [--json]',
    run: async (args) => (await import('./path')).path(args),
  },
  quality: {
    usage:
      'quality --delay MS --jitter MS --loss PERCENT [--burst N] --codec NAME [--buffer MS] [--packet MS] [--json]',
    run: async (args) => (await import('./quality')).callQuality(args),
  },
  times: {
    usage: 'times --records FILE [--endpoint ID] [--json]',
    run: async (args) => (await import('./records')).times(args),
  },
  replay: {
    usage: 'replay --estate FILE [--after FILE] --records FILE [--json]',
    run: async (args) => (await import('./records')).replay(args),
  },
  cost: {
    usage: 'cost --tariff FILE --records FILE [--estate FILE] [--json]',
    run: async (args) => (await import('./records')).cost(args),
  },
  seats: {
    usage: 'seats --calls PER_HOUR --handle S (--seats N [--within S] [--patience S] | --trunk N) [--json]',
    run: async (args) => (await import('./seats')).seats(args),
  },
  desks: {
    usage: 'desks --estate FILE --site ID [--week YYYY-MM-DD] [--chance P] [--json]',
    run: async (args) => (await import('./desks')).desks(args),
  },
  cpl: {
    usage: 'cpl --estate FILE --person ID [--script FILE] [--domain NAME]',
    run: async (args) => (await import('./cpl')).cpl(args),
  },
  doctor: { usage: 'doctor [--json]', run: async (args) => (await import('./doctor')).doctor(args) },
  backup: {
    usage: 'backup --to FOLDER [--untried]',
    run: async (args) => (await import('./backup')).backup(args),
  },
  restore: {
    usage: 'restore --from FOLDER [--replace] [--until TIME --logs FOLDER]',
    run: async (args) => (await import('./backup')).restoreBackup(args),
  },
  'rotate-key': {
    usage: 'rotate-key [--forget-old] [--forget-lost]',
    run: async (args) => (await import('./rotate-key')).rotate(args),
  },
  'let-in': {
    usage: 'let-in --account NAME [--from ADDRESS] [--new-password] [--without-second-factor]',
    run: async (args) => (await import('./let-in')).letSomebodyIn(args),
  },
  export: {
    usage: 'export [--estate FILE]',
    run: async (args) => (await import('./estate')).exportEstate(args),
  },
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
