import { strings } from '@/ui/strings';
import { foundPage } from '@/server/catalogue/page-view';

export const dynamic = 'force-dynamic';

export async function GET(_: Request, context: { params: Promise<{ collection: string; appearance: string }> }) {
  const { collection, appearance } = await context.params;
  return foundPage(collection, Number(appearance) || 0, strings.pageView);
}
