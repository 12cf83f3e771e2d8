import pino from 'pino';

/** Structured log on standard error; never page content, never secrets. */
export const log = pino({ name: 'detto', level: process.env['DETTO_LOG'] ?? 'info' }, pino.destination(2));
