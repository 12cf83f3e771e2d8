import { answering } from '@/app/api/answering';
import { houseStyleSchema } from '@/core/house-style/house-style';

/** The JSON Schema of a house style's file. */
export function GET(request: Request): Promise<Response> {
  return answering(request, async () =>
    Response.json(houseStyleSchema(), { headers: { 'content-type': 'application/schema+json' } }),
  );
}
