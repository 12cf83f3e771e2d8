import { z } from 'zod';

const Line = z
  .string()
  .min(1)
  .max(1000)

  .regex(/^[^\u0000-\u001f\u007f]+$/, 'must be one line');

/** What a site that is not open to everybody wants to be told; its own hosts alone are reported it. */
export const Access = z.union([
  z.object({ user: Line, password: z.string().max(1000) }),
  z.object({ header: Line.regex(/^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/, 'is no name of a header'), value: Line }),
]);
export type Access = z.infer<typeof Access>;
