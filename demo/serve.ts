import path from 'node:path';
import { picturesFolder } from './art/render';
import { contentSystem } from './content-system';
import { documentsFolder } from './documents';
import { draftingService } from './drafting-service';

/**
 * `node dist/demo.js SITE_PORT SERVICE_PORT`: draws the pictures where they are not there yet, makes the documents, and serves the demo site and the
 * stand-in drafting service.
 */
const [site = 4801, service = 4802] = process.argv.slice(2).map(Number);
const pictures = await picturesFolder(path.resolve('dist/demo-pictures'));
await documentsFolder(pictures, path.resolve('dist/demo-documents'));
contentSystem(pictures).listen(site, '127.0.0.1');
draftingService(pictures).listen(service, '127.0.0.1');
