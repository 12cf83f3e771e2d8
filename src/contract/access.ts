import { z } from 'zod';

const Line = z
  .string()
  .min(1)
  .max(1000)

  .regex(/^[^\u0000-\u001f\u007f]+$/, 'must be one line');

/** How to sign in to a site that is not open to everybody; sent to its own hosts alone. */
export const Access = z.union([
  z.object({ user: Line, password: z.string().max(1000) }),
  z.object({ header: Line.regex(/^[!#$%&'*+.^_`|~0-9A-Za-z-]+$/, 'is no name of a header'), value: Line }),
]);
export type Access = z.infer<typeof Access>;
