import { ownPath } from '@/contract/own-path';
import { SignIn } from '@/ui/sign-in/sign-in';
import { strings } from '@/ui/strings';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.signIn.title };

interface Props {
  searchParams: Promise<Record<string, string | string[] | undefined>>;
}

export default async function SignInPage({ searchParams }: Props) {
  const { to, problem } = await searchParams;
  return (
    <SignIn
      to={ownPath(typeof to === 'string' ? to : '/')}
      problem={problem === 'wrong' || problem === 'wait' ? problem : null}
    />
  );
}
