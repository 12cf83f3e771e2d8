import { shelf } from '@/server/catalogue/collections';
import { config } from '@/server/config';
import { Spine } from '@/ui/frame/spine';
import { Shelf } from '@/ui/shelf/shelf';
import { strings } from '@/ui/strings';
import { renameCollection, survey, surveyAgain, takeOffTheShelf } from './actions';

export const dynamic = 'force-dynamic';
export const metadata = { title: strings.shelf.title };

export default async function ShelfPage() {
  const now = new Date();
  const lines = (await shelf()).map((line) => ({
    ...line,
    surveyed: strings.spine.surveyed[line.survey?.state ?? 'never'](
      line.survey ? strings.day(line.survey.startedAt, now) : '',
    ),
    problem: line.survey?.state === 'failed' ? line.survey.message : null,
    running: line.survey?.state === 'running',
  }));
  return (
    <div className="frame">
      <Spine collection={null} isSignedIn={config().token !== null} />
      <main id="sheet" className="sheet">
        <Shelf
          lines={lines}
          localFolders={config().localFolders}
          survey={survey}
          surveyAgain={surveyAgain}
          takeOff={takeOffTheShelf}
          rename={renameCollection}
        />
      </main>
    </div>
  );
}
