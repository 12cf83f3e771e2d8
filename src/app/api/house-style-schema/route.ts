import { houseStyleSchema } from '@/core/house-style/house-style';

/** The JSON Schema of a house style's file. */
export function GET(): Response {
  return Response.json(houseStyleSchema(), { headers: { 'content-type': 'application/schema+json' } });
}
