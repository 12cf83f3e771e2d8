import { z } from 'zod';
import { isSignedIn, signIn } from '@/server/http/session';

export const dynamic = 'force-dynamic';

const Form = z.object({ token: z.string().max(500), to: z.string().max(2000).default('/') });

/** Whether whoever asks has signed in. */
export function GET(request: Request): Response {
  return isSignedIn(request.headers)
    ? Response.json({ signedIn: true })
    : Response.json({ error: 'Sign in first.' }, { status: 401 });
}

/** Signs in with the token of the form, and leads on to where the person wanted to go. */
export async function POST(request: Request): Promise<Response> {
  const { token, to } = Form.parse(Object.fromEntries(await request.formData()));
  const target = to.startsWith('/') && !to.startsWith('//') && !to.includes('\\') ? to : '/';
  const answer = signIn(token, request.headers.get('x-forwarded-proto') === 'https', Date.now());
  const lead = (location: string, headers: Record<string, string> = {}) =>
    new Response(null, { status: 303, headers: { location, ...headers } });
  if (typeof answer === 'object') return lead(target, { 'set-cookie': answer.cookie });
  return lead(`/sign-in?${new URLSearchParams({ to: target, problem: answer })}`);
}
