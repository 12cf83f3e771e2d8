import { foundThumb } from '@/server/pictures/found';

export const dynamic = 'force-dynamic';

export async function GET(_: Request, context: { params: Promise<{ file: string }> }) {
  return foundThumb((await context.params).file);
}
