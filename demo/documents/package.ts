import yazl from 'yazl';

/** Everything in the demo is as old, so that it is the same each time it is made. */
const MADE = new Date('2026-03-01T08:00:00Z');

/** Files of a package in their order; `mimetype` is stored, as OCF and ODF ask. */
export async function zipped(files: readonly (readonly [name: string, content: string | Buffer])[]): Promise<Buffer> {
  const zip = new yazl.ZipFile();
  for (const [name, content] of files)
    zip.addBuffer(Buffer.from(content as string), name, {
      mtime: MADE,
      compress: name !== 'mimetype',
      forceDosTimestamp: true,
    });
  zip.end();
  const parts: Buffer[] = [];
  for await (const part of zip.outputStream as unknown as AsyncIterable<Buffer>) parts.push(part);
  return Buffer.concat(parts);
}

export const XML = '<?xml version="1.0" encoding="UTF-8" standalone="yes"?>\n';

export const escaped = (text: string): string =>
  text.replace(/&/g, '&amp;').replace(/</g, '&lt;').replace(/>/g, '&gt;').replace(/"/g, '&quot;');

const OFFICE = 'http://schemas.openxmlformats.org/officeDocument/2006/relationships';

/** A part's relationships: id, last step of the type, target. */
export const relationships = (
  all: readonly (readonly [id: string, type: string, target: string, external?: boolean])[],
): string =>
  `${XML}<Relationships xmlns="http://schemas.openxmlformats.org/package/2006/relationships">${all
    .map(
      ([id, type, target, external]) =>
        `<Relationship Id="${id}" Type="${type === 'core-properties' ? 'http://schemas.openxmlformats.org/package/2006/relationships/metadata/core-properties' : `${OFFICE}/${type}`}" Target="${escaped(target)}"${external ? ' TargetMode="External"' : ''}/>`,
    )
    .join('')}</Relationships>`;

/** The types of the parts, by ending and by name. */
export const contentTypes = (overrides: Record<string, string>): string =>
  `${XML}<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="rels" ContentType="application/vnd.openxmlformats-package.relationships+xml"/><Default Extension="xml" ContentType="application/xml"/><Default Extension="jpg" ContentType="image/jpeg"/><Default Extension="png" ContentType="image/png"/>${Object.entries(
    overrides,
  )
    .map(([part, type]) => `<Override PartName="/${part}" ContentType="application/vnd.openxmlformats-${type}+xml"/>`)
    .join('')}</Types>`;

/** Title and language of the whole. */
export const coreProperties = (title: string): string =>
  `${XML}<cp:coreProperties xmlns:cp="http://schemas.openxmlformats.org/package/2006/metadata/core-properties" xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>${escaped(title)}</dc:title><dc:language>en-GB</dc:language></cp:coreProperties>`;

/** Words of an object: its alt text, its title, and whether it is marked as decorative. */
export interface Words {
  alt?: string;
  title?: string;
  decorative?: boolean;
}

const MARK =
  '<a:extLst xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><a:ext uri="{C183D7F6-B498-43B3-948B-1728B52AA6E4}"><adec:decorative xmlns:adec="http://schemas.microsoft.com/office/drawing/2017/decorative" val="1"/></a:ext></a:extLst>';

/** Properties of an object that is drawn (ECMA-376, part 1, 20.1.2.2.8). */
export function properties(element: string, id: number, name: string, { alt, title, decorative }: Words): string {
  const words =
    (alt === undefined ? '' : ` descr="${escaped(alt)}"`) + (title === undefined ? '' : ` title="${escaped(title)}"`);
  const start = `<${element} id="${id}" name="${escaped(name)}"${words}`;
  return decorative ? `${start}>${MARK}</${element}>` : `${start}/>`;
}

const cells = (values: readonly (string | number)[]) =>
  values.map((v, i) => `<c:pt idx="${i}"><c:v>${v}</c:v></c:pt>`).join('');

const cached = (kind: 'str' | 'num', range: string, values: readonly (string | number)[]) =>
  `<c:${kind}Ref><c:f>${range}</c:f><c:${kind}Cache>${kind === 'num' ? '<c:formatCode>General</c:formatCode>' : ''}<c:ptCount val="${values.length}"/>${cells(values)}</c:${kind}Cache></c:${kind}Ref>`;

const AXES =
  '<c:catAx><c:axId val="1"/><c:scaling><c:orientation val="minMax"/></c:scaling><c:delete val="0"/><c:axPos val="b"/><c:crossAx val="2"/></c:catAx><c:valAx><c:axId val="2"/><c:scaling><c:orientation val="minMax"/></c:scaling><c:delete val="0"/><c:axPos val="l"/><c:crossAx val="1"/></c:valAx>';
const FILLS = ['3F6F86', 'B07A1E'];

/** A bar chart with its numbers kept beside it (ECMA-376, part 1, 21.2). */
export function barChart(
  title: string,
  range: string,
  categories: readonly string[],
  series: readonly (readonly [name: string, range: string, values: readonly number[]])[],
): string {
  const bars = series.map(
    ([name, own, values], i) =>
      `<c:ser><c:idx val="${i}"/><c:order val="${i}"/><c:tx><c:v>${escaped(name)}</c:v></c:tx><c:spPr><a:solidFill><a:srgbClr val="${FILLS[i]}"/></a:solidFill></c:spPr><c:cat>${cached('str', range, categories)}</c:cat><c:val>${cached('num', own, values)}</c:val></c:ser>`,
  );
  return `${XML}<c:chartSpace xmlns:c="http://schemas.openxmlformats.org/drawingml/2006/chart" xmlns:a="http://schemas.openxmlformats.org/drawingml/2006/main"><c:chart><c:title><c:tx><c:rich><a:bodyPr/><a:p><a:r><a:t>${escaped(title)}</a:t></a:r></a:p></c:rich></c:tx><c:overlay val="0"/></c:title><c:autoTitleDeleted val="0"/><c:plotArea><c:layout/><c:barChart><c:barDir val="col"/><c:grouping val="clustered"/>${bars.join('')}<c:axId val="1"/><c:axId val="2"/></c:barChart>${AXES}</c:plotArea><c:legend><c:legendPos val="b"/></c:legend><c:plotVisOnly val="1"/></c:chart></c:chartSpace>`;
}
