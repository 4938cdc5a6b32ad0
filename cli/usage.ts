import type { CommanderError } from 'commander';

/** What is wrong with how a command was written, in our words; the package that reads it has its own. */
export function usageInWords({ code, message }: CommanderError): string {
  const named = /'([^']*)'/.exec(message)?.[1] ?? '';
  switch (code) {
    case 'commander.missingMandatoryOptionValue':
      return `${bare(named)} is missing. ${HELP}`;
    case 'commander.optionMissingArgument':
      return `${bare(named)} needs what follows it: ${named}. ${HELP}`;
    case 'commander.missingArgument':
      return `${named} is missing. ${HELP}`;
    case 'commander.excessArguments':
      return `There is more than this command takes. ${HELP}`;
    case 'commander.unknownOption':
      return `There is no ${named}. ${HELP}`;
    case 'commander.unknownCommand':
      return `There is no command ${named}. stonetray --help lists all.`;
    case 'commander.help':
      return `Say which command. stonetray --help lists all.`;
    default:
      return message.replace(/^error: /, '');
  }
}

const HELP = 'With --help the command says all that it takes.';

/** A flag without what follows it. */
function bare(flag: string): string {
  return flag.replace(/^.*?(--[\w-]+).*$/, '$1');
}
