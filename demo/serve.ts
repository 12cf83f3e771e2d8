import path from 'node:path';
import { picturesFolder } from './art/render';
import { contentSystem } from './content-system';

/** `node dist/demo.js PORT`: draws the pictures where they are not there yet, and serves the demo site. */
const port = Number(process.argv[2] ?? 4801);
const server = contentSystem(await picturesFolder(path.resolve('dist/demo-pictures')));
server.listen(port, '127.0.0.1');
