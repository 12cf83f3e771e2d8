import { answering } from '@/app/api/answering';
import { jsonBody } from '@/server/http/bodies';
import { z } from 'zod';
import { Act, OwnActs } from '@/contract/acts';
import { TEXT_FIELDS } from '@/core/model/texts';
import { fileNameProblem } from '@/core/picture/file-name';
import { strings } from '@/ui/strings';
import { collectionById } from '@/server/catalogue/collections';
import { pictureName } from '@/server/catalogue/picture-files';
import { UserError } from '@/core/model/user-error';
import { saveFieldText } from '@/server/wordings/field-texts';

export const dynamic = 'force-dynamic';

const Id = z.number().int().positive();
const Wanted = z.object({
  field: z.enum(TEXT_FIELDS),
  picture: Id,
  /** For a title or a caption: the places that it is for, the one that the editor looks at first. */
  places: z.array(Id).max(100_000).default([]),
  text: z.string().max(50_000).nullable(),
  act: Act,
  after: OwnActs,
  /** The text that it was written from; without it, nothing is checked against. */
  base: z.string().max(50_000).optional(),
});

/** Keeps a text of a picture other than its alt text. Where somebody else has saved another since, that stands: 409. */
export async function PUT(request: Request, context: { params: Promise<{ collection: string }> }): Promise<Response> {
  return answering(request, async () => {
    const c = await collectionById((await context.params).collection);
    if (!c) throw new UserError('There is no such collection.', 404);
    const { picture, base, ...wanted } = Wanted.parse(await jsonBody(request));
    const name = await pictureName(c.id, picture);
    if (name === null) throw new UserError('There is no such picture.', 404);
    const problem = wanted.field === 'file-name' && wanted.text ? fileNameProblem(wanted.text, name) : null;
    if (problem) throw new UserError(strings.desk.fileName.problems[problem]);
    const kept = { collectionId: c.id, pictureId: picture, ...wanted };
    const answer = await saveFieldText(base === undefined ? kept : { ...kept, base });
    return Response.json(answer, { status: answer.theirs === null ? 200 : 409 });
  });
}
