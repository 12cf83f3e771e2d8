/** Says on the console in one sentence why Detto cannot start, and ends the process with all that belongs to it. */
export function refuseStart(error: unknown): never {
  process.stderr.write(`Detto does not start. ${error instanceof Error ? error.message : String(error)}\n`);
  process.exit(1);
}
