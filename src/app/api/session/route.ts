import { z } from 'zod';
import { answering } from '@/app/api/answering';
import { ownPath } from '@/contract/own-path';
import { UserError } from '@/core/model/user-error';
import { admission, signIn, signOut } from '@/server/http/session';
import { PEER } from '@/server/http/tries';

export const dynamic = 'force-dynamic';

const Form = z.object({ token: z.string().max(500), to: z.string().max(2000).default('/') });
const isHttps = (request: Request) => request.headers.get('x-forwarded-proto') === 'https';

/** Whether whoever asks has signed in. */
export const GET = (request: Request): Promise<Response> =>
  answering(request, async () => {
    if (admission(request.headers) !== 'admitted') throw new UserError({ id: 'error.not-signed-in' }, 401);
    return Response.json({ signedIn: true });
  });

/** Signs in with the token of the form, and leads on to where the person wanted to go. */
export const POST = (request: Request): Promise<Response> =>
  answering(request, async () => {
    const form = await request.formData().catch(() => {
      throw new UserError({ id: 'error.not-a-form' });
    });
    const { token, to } = Form.parse(Object.fromEntries(form));
    const target = ownPath(to);
    const answer = signIn(token, isHttps(request), Date.now(), request.headers.get(PEER));
    const lead = (location: string, headers: Record<string, string> = {}) =>
      new Response(null, { status: 303, headers: { location, ...headers } });
    if (typeof answer === 'object') return lead(target, { 'set-cookie': answer.cookie });
    return lead(`/sign-in?${new URLSearchParams({ to: target, problem: answer })}`);
  });

/** Signs out: the session ends here, whoever keeps its cookie. */
export const DELETE = (request: Request): Promise<Response> =>
  answering(
    request,
    async () =>
      new Response(null, { status: 204, headers: { 'set-cookie': signOut(request.headers, isHttps(request)) } }),
  );
