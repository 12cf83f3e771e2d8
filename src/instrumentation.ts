/** Runs once when the server starts: jobs that a stop broke off go on, and the next stop is an orderly one. */
export async function register(): Promise<void> {
  if (process.env['NEXT_RUNTIME'] !== 'nodejs' || process.env['NEXT_PHASE'] === 'phase-production-build') return;
  const { endOnSignals } = await import('./server/operations/shutdown');
  endOnSignals();
  const { config } = await import('./server/config');
  if (!config().works) return;
  const { startJobs } = await import('./server/pipeline/pipeline');
  startJobs();
}
