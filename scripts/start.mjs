// `npm start`: serves Detto on this machine.
import { answers, build, follow, serve } from './serve.mjs';

await build();
const { server, address } = await serve({});
follow(server);
await answers(address, server);
process.stdout.write(`Detto is at ${address}\n`);
