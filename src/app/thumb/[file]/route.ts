import { foundThumb } from '@/server/catalogue/picture-files';

export const dynamic = 'force-dynamic';

export async function GET(_: Request, context: { params: Promise<{ file: string }> }) {
  return foundThumb((await context.params).file);
}
