import { createConnection, type Connection } from 'mysql2';
import { askReadiness, type Nodes } from './nodes';

/** A connection of the pool, as far as its pulse is concerned. */
export interface Watched {
  readonly stream: { destroy(error: Error): void; once(event: 'close', listener: () => void): unknown };
}

const everyMs = 3000;
const withinMs = 5000;

/**
 * Feels the database's pulse over a connection of its own. One that is frozen, or behind a network that swallows
 * everything, closes nothing, and whoever asked it something would wait for a quarter of an hour; then all connections are
 * given up, as if it had closed them; so they are when a node of a cluster is cut off from the others, and refuses every statement. How long a statement takes is no matter while it answers.
 */
export class Pulse {
  private readonly watched = new Set<Watched>();
  private own: Connection | null = null;
  private timer: NodeJS.Timeout | null = null;

  constructor(private readonly nodes: Nodes) {}

  /** Looks after a connection until it ends. */
  watch(connection: Watched): void {
    this.watched.add(connection);
    // The driver tells of no end that we asked for ourselves; its socket does.
    connection.stream.once('close', () => {
      this.watched.delete(connection);
      if (this.watched.size === 0) this.rest();
    });
    this.timer ??= setTimeout(() => void this.beat(), everyMs).unref();
  }

  private async beat(): Promise<void> {
    this.timer = null;
    if (this.watched.size === 0) return this.rest();
    const asked = this.nodes.current;
    if (!(await this.answers())) {
      this.rest();
      const gone = Object.assign(new Error('the database does not answer'), { code: 'ETIMEDOUT', syscall: 'read' });
      for (const { stream } of this.watched) stream.destroy(gone);
      this.watched.clear();
      this.nodes.leave(asked);
    }
    this.timer ??= setTimeout(() => void this.beat(), everyMs).unref();
  }

  private connect(): Connection {
    const own = createConnection(this.nodes.options);
    own.on('error', () => {
      if (this.own === own) this.own = null;
    });
    return own;
  }

  private rest(): void {
    this.own?.destroy();
    this.own = null;
  }

  /** False when nothing at all is heard, or a node is apart from its cluster; whoever refuses is alive. */
  private answers(): Promise<boolean> {
    return new Promise((resolve) => {
      const timer = setTimeout(() => resolve(false), withinMs);
      this.own ??= this.connect();
      askReadiness(this.own, (readiness) => {
        clearTimeout(timer);
        if (readiness === 'refused') this.rest();
        resolve(readiness !== 'apart');
      });
    });
  }
}
