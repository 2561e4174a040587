// The socket of one person at a room: it connects, comes back after a break
// from where it was, and sends requests that are done once however often they
// are sent.
import type { Answer, Asked, Joined, Message, Problem } from "./shapes.js";

export type Connection = "connecting" | "live" | "lost" | "ended";

/** Nothing heard for this long means the connection is lost; the service sends something every 3 seconds. Milliseconds. */
const quiet = 7000;
/** How often the service is told that this end lives, and how often it is looked whether it was heard. */
const beat = 3000;
const look = 500;
/** WebSocket.OPEN, which a class that is handed in may not have. */
const open = 1;
const pauses = [200, 500, 1000, 2000, 4000];
/** The service closes with this code when a key opens nothing here. */
const closedBadKey = 4001;

interface Waiting {
  text: string;
  asked: Asked;
  settle: (result: Answer | Problem) => void;
}

/** What a socket tells of. */
export interface Hearing {
  /** A message came. With an answer comes what was asked for, and both come before the request is settled. */
  heard(message: Message, asked?: Asked): void;
  /** The connection is another one: lost, or live again, or ended for good because the key opens nothing any more. */
  connection(now: Connection): void;
}

/** A class of sockets as browsers have it, and Node from version 22 on. */
export type SocketClass = new (address: string) => WebSocket;

export class RoomSocket {
  connection: Connection = "connecting";
  private socket: WebSocket | null = null;
  private waiting = new Map<string, Waiting>();
  private tries = 0;
  private stopped = false;
  private gate = "";
  private told = 0;
  private heardAt = 0;
  private looking: ReturnType<typeof setInterval> | undefined;
  private beating: ReturnType<typeof setInterval> | undefined;
  private retry: ReturnType<typeof setTimeout> | undefined;

  /** address is the socket's, such as wss://table.example/api/rooms/ROOM/live. */
  constructor(
    private readonly joined: Pick<Joined, "key">,
    private readonly address: string,
    private readonly hearing: Hearing,
    private readonly sockets?: SocketClass,
  ) {}

  start(): void {
    this.stopped = false;
    this.connect();
    this.looking = setInterval(this.lookWhetherLost, look);
    this.beating = setInterval(() => this.connection === "live" && this.send('{"type":"pulse"}'), beat);
    globalThis.window?.addEventListener("online", this.wake);
    globalThis.document?.addEventListener("visibilitychange", this.wake);
  }

  stop(): void {
    this.stopped = true;
    clearInterval(this.looking);
    clearInterval(this.beating);
    clearTimeout(this.retry);
    globalThis.window?.removeEventListener("online", this.wake);
    globalThis.document?.removeEventListener("visibilitychange", this.wake);
    this.socket?.close();
  }

  /** Asks for an action, or Steps, under an id of its own. Done resolves once it is kept and told, or with the problem. */
  ask(asked: Asked, confirm?: string): { id: string; done: Promise<Answer | Problem> } {
    const id = crypto.getRandomValues(new Uint32Array(4)).join("-");
    const text = JSON.stringify({ type: "act", id, ...asked, confirm });
    const done = new Promise<Answer | Problem>((settle) => this.waiting.set(id, { text, asked, settle }));
    if (this.connection === "live") this.send(text);
    return { id, done };
  }

  /** Tells what needs no answer and is worth nothing later: a grip, or a pointer. */
  tell(message: { type: "grip"; cards: string[] } | { type: "point"; x: number; y: number; away: boolean }): void {
    if (this.connection === "live") this.send(JSON.stringify(message));
  }

  /** A tab that wakes, or a network that is back, tries at once. */
  private readonly wake = () => {
    if (this.connection !== "lost" || globalThis.document?.visibilityState === "hidden") return;
    clearTimeout(this.retry);
    this.connect();
  };

  private connect(): void {
    const Socket = this.sockets ?? (globalThis.WebSocket as SocketClass | undefined);
    if (!Socket)
      throw new Error("There is no WebSocket here, as in Node before version 22; hand one in: new Table(service, joined, { WebSocket }).");
    const socket = new Socket(this.address);
    this.socket = socket;
    socket.onopen = () => socket.send(JSON.stringify({ type: "hello", key: this.joined.key, gate: this.gate, told: this.told }));
    socket.onmessage = (event) => this.hear(JSON.parse(String(event.data)) as Message);
    socket.onclose = (event) => {
      if (socket === this.socket && !this.stopped) this.closed(event.code);
    };
    socket.onerror = () => {
      if (socket === this.socket && !this.stopped) this.closed(0); // of some that is all that is told
    };
    this.heardAt = Date.now();
  }

  /** By its own clock: a line that went silent is closed nowhere, and so nothing tells of it. */
  private readonly lookWhetherLost = () => {
    if (this.stopped || !this.socket || Date.now() - this.heardAt < quiet) return;
    this.closed(0);
  };

  private send(text: string): void {
    if (this.socket?.readyState === open) this.socket.send(text);
  }

  /** This socket has ended, whether or not it knows. */
  private closed(code: number): void {
    const socket = this.socket;
    this.socket = null;
    if (socket) {
      socket.onopen = socket.onmessage = socket.onclose = socket.onerror = null;
      socket.close();
    }
    if (code === closedBadKey) {
      this.become("ended");
      return;
    }
    this.become("lost");
    const pause = pauses[Math.min(this.tries++, pauses.length - 1)] ?? 4000;
    this.retry = setTimeout(() => this.connect(), pause);
  }

  private become(now: Connection): void {
    this.connection = now;
    this.hearing.connection(now);
  }

  private hear(message: Message): void {
    this.heardAt = Date.now();
    if (message.type === "answer") {
      const waiting = message.id ? this.waiting.get(message.id) : undefined;
      this.hearing.heard(message, waiting?.asked);
      if (!waiting) return;
      this.waiting.delete(message.id ?? "");
      const result = message.problem ?? message.answer;
      if (result) waiting.settle(result);
      return;
    }
    if (message.type === "view" || message.type === "resumed") {
      this.gate = message.gate;
      this.told = message.told;
      this.welcome();
    }
    if (message.type === "changes") this.told++;
    this.hearing.heard(message);
  }

  /** The first message after the hello: requests without an answer go out (again). */
  private welcome(): void {
    if (this.connection === "live") return;
    this.tries = 0;
    this.become("live");
    for (const { text } of this.waiting.values()) this.send(text);
  }
}

/** The address of a room's socket at a service, such as https://table.example. */
export function socketAddress(service: string, room: string): string {
  return `${service.replace(/^http/, "ws").replace(/\/$/, "")}/api/rooms/${encodeURIComponent(room)}/live`;
}
