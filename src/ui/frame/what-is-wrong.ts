/** What keeps Detto from doing what was asked, in words; null when it does not know, or does not answer at all. */
export async function whatIsWrong(): Promise<string | null> {
  try {
    const answer = await fetch('/api/health', { cache: 'no-store' });
    const { message } = (await answer.json()) as { message?: string | null };
    return message ?? null;
  } catch {
    return null;
  }
}
