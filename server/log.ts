import { randomInt } from 'node:crypto';
import pino from 'pino';
import { asked } from './asked';

/** What happens, as lines of JSON for whoever runs the server: requests, and what goes wrong on our side. */
export const log = pino({ base: undefined, timestamp: pino.stdTimeFunctions.isoTime }, pino.destination(2));

/** Whose work it was. */
export interface DefectPlace {
  /** Method and address. */
  request?: string;
  task?: string;
  kind?: string;
  project?: string;
  /** The person's id. */
  user?: string;
}

/** Letters and digits that are not mistaken for each other when they are read out. */
const SIGNS = '23456789ABCDEFGHJKLMNPQRSTUVWXYZ';

/**
 * Logs an error that is no refusal: a defect of ours.
 * @returns words for the person: that it is our fault, its number in the log, and in which state things are
 */
export function defectInWords(error: unknown, { request, task, kind, project, user }: DefectPlace): string {
  const number = Array.from({ length: 6 }, () => SIGNS[randomInt(SIGNS.length)]).join('');
  log.error({ number, id: asked()?.id, request, task, kind, project, user, err: error }, 'defect');
  return `Something in Stone Tray went wrong. It is our fault, not yours. Nothing was changed. Try again; if it comes back, tell whoever runs this server the number ${number}.`;
}
