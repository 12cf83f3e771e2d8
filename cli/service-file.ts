import { readFile } from 'node:fs/promises';
import path from 'node:path';
import { z } from 'zod';
import { ServiceSettings } from '@/contract/drafting';
import type { ServiceRow } from '@/server/drafting/services';

/** A service as a file describes it: the settings of the interface, with the key named and never in the file itself. */
const ServiceFile = ServiceSettings.omit({ key: true, name: true, monthlyBudget: true }).extend({
  name: z.string().trim().min(1).max(60).default('service'),
  /** Name of the environment variable that holds the key. */
  keyEnv: z.string().min(1).optional(),
  /** File that holds the key, from the folder of the service file. */
  keyFile: z.string().min(1).optional(),
});

export interface ServiceInFile {
  service: ServiceRow;
  /** Undefined where it needs none. */
  key: string | undefined;
}

/**
 * Reads a service and its key.
 *
 * @throws Error that names the file and what is wrong in it
 */
export async function serviceIn(file: string): Promise<ServiceInFile> {
  let parsed: unknown;
  try {
    parsed = JSON.parse(await readFile(file, 'utf8'));
  } catch (error) {
    throw new Error(`${file}: ${(error as Error).message}`);
  }
  const read = ServiceFile.strict().safeParse(parsed);
  if (!read.success) {
    const issue = read.error.issues[0]!;
    throw new Error(`${file}: ${issue.path.join('.') || 'the file'}: ${issue.message}`);
  }
  const { keyEnv, keyFile, ...settings } = read.data;
  const service = { ...settings, id: 0, key: null, monthlyBudget: null, at: new Date(0) };
  if (keyEnv !== undefined) {
    const key = process.env[keyEnv];
    if (!key) throw new Error(`${file}: the environment variable ${keyEnv} is not set.`);
    return { service, key };
  }
  if (keyFile === undefined) return { service, key: undefined };
  const at = path.resolve(path.dirname(file), keyFile);
  const key = await readFile(at, 'utf8').catch((error: Error) => {
    throw new Error(`${file}: keyFile: ${error.message}`);
  });
  return { service, key: key.trim() };
}
