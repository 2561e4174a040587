// A seat at a table, for a page or a program of one's own.
import { bare, fold, type TableState } from "./fold.js";
import { RoomSocket, socketAddress, type Connection, type SocketClass } from "./socket.js";
import type { Answer, Asked, Joined, LogLine, Message, Problem, Room } from "./shapes.js";

/** What the service refused, with the problem it told. */
export class Refused extends Error {
  constructor(readonly problem: Problem) {
    super(problem.detail);
  }
}

/** Asks a service at an address, such as https://table.example, and throws Refused for what it refuses. */
export async function ask<T>(service: string, method: string, path: string, key = "", body?: unknown): Promise<T> {
  const nowhere = (status: number, detail: string) =>
    new Refused({ type: "about:blank", status, code: "no-service", title: "No service answers", detail });
  const response = await fetch(service.replace(/\/$/, "") + path, {
    method,
    headers: { ...(key && { Authorization: `Bearer ${key}` }), ...(body !== undefined && { "Content-Type": "application/json" }) },
    body: body === undefined ? undefined : JSON.stringify(body),
  }).catch((why: unknown) => {
    throw nowhere(0, `Nothing answers at ${service} (${String(why)}).`);
  });
  const text = await response.text();
  let answer: unknown;
  try {
    answer = text ? JSON.parse(text) : undefined;
  } catch {
    throw nowhere(
      response.status,
      `What answers at ${service} is no Damselfly, or a proxy before one that is not there (${response.status} ${response.statusText}).`,
    );
  }
  if (!response.ok)
    throw answer
      ? new Refused(answer as Problem)
      : nowhere(response.status, `${service} answers ${response.status} ${response.statusText}.`);
  return answer as T;
}

const inRoom = (room: string) => `/api/rooms/${encodeURIComponent(room)}`;

/** What a room is, and who sits where. */
export const room = (service: string, id: string): Promise<Room> => ask(service, "GET", inRoom(id));

/** Takes a seat in a room, or watches. Keep what comes back: its key opens the seat from then on. */
export function join(
  service: string,
  id: string,
  as: { name?: string; seat?: number; passcode?: string; watch?: boolean },
): Promise<Joined> {
  return ask(service, "POST", `${inRoom(id)}/join`, "", as);
}

/** A table as it is told to one seat, kept up to date over a socket. */
export class Table {
  state: TableState = bare;
  connection: Connection = "connecting";
  private readonly socket: RoomSocket;
  private readonly listeners = new Set<(message?: Message) => void>();
  private end: (why: Error) => void = () => undefined;
  /** Rejects once nothing is told here any more. */
  private readonly over = new Promise<never>((_, reject) => (this.end = reject));

  constructor(
    readonly service: string,
    readonly joined: Joined,
    options: { WebSocket?: SocketClass } = {},
  ) {
    this.over.catch(() => undefined); // nobody may be waiting
    this.socket = new RoomSocket(
      joined,
      socketAddress(service, joined.room),
      {
        heard: (message) => {
          this.state = fold(this.state, message);
          this.changed(message);
        },
        connection: (now) => {
          this.connection = now;
          if (now === "ended") this.end(new Error("The key opens no seat of this room."));
          this.changed();
        },
      },
      options.WebSocket,
    );
  }

  /** Connects. Resolves with the first view; rejects, and leaves, if none comes within so many milliseconds. */
  async start(within = 20_000): Promise<this> {
    let late: ReturnType<typeof setTimeout> | undefined;
    const patience = new Promise<never>((_, reject) => {
      late = setTimeout(() => reject(new Error(`${this.service} did not show the table within ${within / 1000} seconds.`)), within);
    });
    const seen = new Promise<void>((resolve) => {
      const silence = this.listen(() => {
        if (!this.state.view) return;
        resolve();
        silence();
      });
    });
    try {
      this.socket.start();
      await Promise.race([seen, this.over, patience]);
    } catch (why) {
      this.socket.stop();
      throw why;
    } finally {
      clearTimeout(late);
    }
    return this;
  }

  /** Leaves for good; the seat is kept, and another Table sits down there again. */
  stop(): void {
    this.socket.stop();
    this.end(new Error("The table was left before an answer came."));
  }

  /** Has a function called after each message that came, and when the connection changes, until what is returned is called. */
  listen(then: (message?: Message) => void): () => void {
    this.listeners.add(then);
    return () => void this.listeners.delete(then);
  }

  /**
   * Does an action, or Steps. Resolves once it is kept and told; throws Refused for what was not done. What somebody else may have
   * written and only this seat would see is refused first, as needs-confirming: problem.details[0] is its text, to be given as confirm.
   */
  async act(asked: Asked, confirm?: string): Promise<Answer> {
    const result = await Promise.race([this.socket.ask(asked, confirm).done, this.over]);
    if ("code" in result) throw new Refused(result);
    return result;
  }

  /** Does what Steps say. */
  do(steps: string, confirm?: string): Promise<Answer> {
    return this.act({ steps }, confirm);
  }

  /** A place of the table by its id, such as sky or satchel/2. */
  place(id: string) {
    return this.state.view?.places.find((p) => p.id === id);
  }

  /** The last lines of the log, the newest last. */
  async log(last = 50): Promise<LogLine[]> {
    const { lines } = await ask<{ lines: LogLine[] }>(this.service, "GET", `${inRoom(this.joined.room)}/log?last=${last}`, this.joined.key);
    return lines;
  }

  /** Where the service has a picture. */
  picture(name: string, size: "small" | "full" = "small"): string {
    return `${this.service.replace(/\/$/, "")}/pictures/${name}/${size}`;
  }

  private changed(message?: Message): void {
    for (const then of [...this.listeners]) then(message);
  }
}
