import { fsyncSync } from 'node:fs';
import type { PGlite } from '@electric-sql/pglite';
import { NodeFS } from '@electric-sql/pglite/nodefs';

/** What Emscripten's file system for Node hands to a stream operation. */
interface Stream {
  /** File descriptor of the operating system. */
  nfd: number;
}
interface Attributes {
  mode?: number;
}
interface Module {
  NODEFS: {
    node_ops: { setattr(node: unknown, attributes: Attributes): void };
    stream_ops: { setattr(stream: Stream, attributes: Attributes): void; fsync?(stream: Stream): number };
  };
}

/**
 * The folder of the embedded database, with an `fsync` that reaches the disk: Emscripten's own does nothing, so
 * PostgreSQL's log would survive a killed process and no loss of power. Its files are their owner's alone, where
 * Emscripten sets modes of its own after they were made.
 */
export class SyncedFiles extends NodeFS {
  override async init(pg: PGlite, options: Parameters<NodeFS['init']>[1]): ReturnType<NodeFS['init']> {
    const started = await super.init(pg, options);
    started.emscriptenOpts.preRun ??= [];
    started.emscriptenOpts.preRun.push((module: unknown) => {
      const { node_ops: nodes, stream_ops: streams } = (module as Module).NODEFS;
      streams.fsync = ({ nfd }) => {
        fsyncSync(nfd);
        return 0;
      };
      const [setNode, setStream] = [nodes.setattr, streams.setattr];
      nodes.setattr = (node, attributes) => setNode(node, withoutOthers(attributes));
      streams.setattr = (stream, attributes) => setStream(stream, withoutOthers(attributes));
    });
    return started;
  }
}

const withoutOthers = (attributes: Attributes): Attributes =>
  attributes.mode === undefined ? attributes : { ...attributes, mode: attributes.mode & ~0o077 };
