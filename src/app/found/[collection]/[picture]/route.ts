import { foundPicture } from '@/server/catalogue/picture-files';

export const dynamic = 'force-dynamic';

export async function GET(_: Request, context: { params: Promise<{ collection: string; picture: string }> }) {
  const { collection, picture } = await context.params;
  return foundPicture(collection, Number(picture) || 0);
}
