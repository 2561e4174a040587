// The socket of one person at a room: it connects, comes back after a break
// from where it was, and sends requests that are done once however often they
// are sent.
import { api, sentence, type Action, type Answer, type Joined, type Message, type Problem } from "../api/client";
import { bare, fold, type TableState } from "./fold";
import { guess, withGuess, type Guess } from "./guess";
import type { PicturePut, StepsChecked, TableSource } from "./source";
import { create, type StoreApi, type UseBoundStore } from "zustand";

export type Connection = "connecting" | "live" | "lost" | "ended";

export interface Notice {
  id: number;
  text: string;
  kind: "told" | "refused" | "service";
}

export interface Live extends TableState {
  connection: Connection;
  saving: boolean;
  notices: Notice[];
  /** Why the room let this seat go, once it has. */
  ended: string;
  /** What one's own acts that are not settled yet will most likely do, in their order. */
  guesses: { id: string; guess: Guess }[];
}

/** The view with one's own unsettled acts in it: what is drawn. */
export function shown({ view, guesses }: Pick<Live, "view" | "guesses">): TableState["view"] {
  return view && guesses.reduce((v, g) => withGuess(v, g.guess), view);
}

/** Nothing heard for this long means the connection is lost; the service sends something every 15 seconds. */
const quiet = 40_000;
/** Milliseconds between two messages of where the pointer is. */
const pointEvery = 90;
/** Messages that come within this many milliseconds of another are shown together. */
const together = 24;
const pauses = [200, 500, 1000, 2000, 4000];
/** The service closes with this code when a key opens nothing here. */
const closedBadKey = 4001;

interface Waiting {
  text: string;
  what: { action: Action } | { steps: string };
  settle: (result: Answer | Problem) => void;
}

export class RoomConnection implements TableSource {
  readonly alone = false;
  readonly store: UseBoundStore<StoreApi<Live>>;
  private socket: WebSocket | null = null;
  private waiting = new Map<string, Waiting>();
  private tries = 0;
  private nextNotice = 1;
  private stopped = false;
  private silence: ReturnType<typeof setTimeout> | undefined;
  private retry: ReturnType<typeof setTimeout> | undefined;

  /** toConfirm shows the text of steps and goes on if they shall be done. */
  constructor(
    readonly joined: Joined,
    private readonly toConfirm: (text: string, then: () => void) => void,
    private readonly address = socketAddress(joined.room),
  ) {
    this.store = create<Live>(() => ({ ...bare, connection: "connecting", saving: true, notices: [], ended: "", guesses: [] }));
  }

  start(): void {
    this.stopped = false;
    this.connect();
    window.addEventListener("online", this.wake);
    document.addEventListener("visibilitychange", this.wake);
  }

  stop(): void {
    this.stopped = true;
    clearTimeout(this.silence);
    clearTimeout(this.retry);
    clearTimeout(this.showing);
    window.removeEventListener("online", this.wake);
    document.removeEventListener("visibilitychange", this.wake);
    this.socket?.close();
  }

  /** Does an action, or Steps. Resolves once it is kept and shown, or with the problem. */
  act(what: { action: Action } | { steps: string }, confirm?: string): Promise<Answer | Problem> {
    const id = crypto.getRandomValues(new Uint32Array(4)).join("-");
    const text = JSON.stringify({ type: "act", id, ...what, confirm });
    return new Promise((settle) => {
      this.waiting.set(id, { text, what, settle });
      if ("action" in what) this.guess(id, what.action);
      if (this.socket?.readyState === WebSocket.OPEN && this.store.getState().connection === "live") this.socket.send(text);
    });
  }

  /** Shows at once what an action will most likely do. */
  private guess(id: string, action: Action): void {
    this.show();
    const view = shown(this.store.getState());
    if (view && this.store.getState().connection === "live")
      this.store.setState((s) => ({ guesses: [...s.guesses, { id, guess: guess(view, action) }] }));
  }

  /** Claims cards while they are dragged; none lets go. */
  grip(cards: string[]): void {
    if (this.store.getState().connection === "live") this.socket?.send(JSON.stringify({ type: "grip", cards }));
  }

  private pointed = 0;

  /** Tells others where one's pointer is, some ten times a second at most; null: it left the table. */
  point(at: { x: number; y: number } | null): void {
    const now = performance.now();
    if (this.store.getState().connection !== "live" || (at && now - this.pointed < pointEvery)) return;
    this.pointed = now;
    this.socket?.send(JSON.stringify({ type: "point", x: Math.round(at?.x ?? 0), y: Math.round(at?.y ?? 0), away: !at }));
  }

  async checkSteps(steps: string): Promise<StepsChecked> {
    const { data, error } = await api.POST("/api/rooms/{room}/check-steps", {
      params: { path: { room: this.joined.room } },
      body: { steps },
      headers: this.asSeat,
    });
    if (error) throw new Error(error.detail);
    return data;
  }

  async bringPicture(file: File): Promise<PicturePut> {
    const { data, error } = await api.POST("/api/rooms/{room}/pictures", {
      params: { path: { room: this.joined.room } },
      headers: { ...this.asSeat, "Content-Type": "application/octet-stream" },
      body: file as unknown as string,
      bodySerializer: (body) => body,
    });
    if (!data) throw new Error(sentence(error));
    return data;
  }

  private get asSeat() {
    return { Authorization: `Bearer ${this.joined.key}` };
  }

  notify(text: string, kind: Notice["kind"]): void {
    const notice = { id: this.nextNotice++, text, kind };
    this.store.setState((s) => ({ notices: [...s.notices.slice(-3), notice] }));
    setTimeout(() => this.dismiss(notice.id), kind === "refused" ? 6000 : 3500);
  }

  dismiss(id: number): void {
    this.store.setState((s) => ({ notices: s.notices.filter((n) => n.id !== id) }));
  }

  /** A tab that wakes, or a network that is back, tries at once. */
  private readonly wake = () => {
    if (this.store.getState().connection !== "lost" || document.visibilityState === "hidden") return;
    clearTimeout(this.retry);
    this.connect();
  };

  private connect(): void {
    const socket = new WebSocket(this.address);
    this.socket = socket;
    socket.onopen = () => {
      const { gate, told } = this.store.getState();
      socket.send(JSON.stringify({ type: "hello", key: this.joined.key, gate, told }));
    };
    socket.onmessage = (event) => this.hear(JSON.parse(String(event.data)) as Message);
    socket.onclose = (event) => {
      if (socket === this.socket && !this.stopped) this.closed(event.code);
    };
    this.listen();
  }

  private listen(): void {
    clearTimeout(this.silence);
    this.silence = setTimeout(() => this.socket?.close(), quiet);
  }

  private closed(code: number): void {
    clearTimeout(this.silence);
    this.show();
    if (code === closedBadKey) {
      this.store.setState((s) => ({
        connection: "ended",
        ended: s.ended || "Your seat was freed or handed on. You can take a free one at the entrance.",
      }));
      return;
    }
    this.store.setState({ connection: "lost", guesses: [] });
    const pause = pauses[Math.min(this.tries++, pauses.length - 1)] ?? 4000;
    this.retry = setTimeout(() => this.connect(), pause);
  }

  private hear(message: Message): void {
    this.listen();
    if (message.type === "answer") {
      this.show(); // an answer rests on what came before it
      this.answered(message);
      return;
    }
    if (message.type === "notice") {
      this.store.setState({ saving: message.code !== "not-saving" });
      if (message.text) this.notify(message.text, "service");
    }
    if (message.type === "view" || message.type === "resumed") this.welcome();
    this.tell(message);
    this.heard.push(message);
    if (this.heard.length > 1) return;
    const wait = this.shownAt + together - performance.now();
    if (wait <= 0) this.show();
    else this.showing = setTimeout(() => this.show(), wait);
  }

  private heard: Message[] = [];
  private shownAt = -Infinity;
  private showing: ReturnType<typeof setTimeout> | undefined;

  /** Shows what was heard: the table is drawn once for messages that came together. */
  private show(): void {
    clearTimeout(this.showing);
    const heard = this.heard;
    if (heard.length === 0) return;
    this.heard = [];
    this.shownAt = performance.now();
    this.store.setState((s) => heard.reduce<TableState>(fold, s));
  }

  /** Says what others did, once and short. */
  private tell(message: Message): void {
    const you = this.store.getState().view?.you;
    if (message.type !== "changes") return;
    const told = (message.log ?? []).filter((line) => line.seat !== you);
    const [first] = told;
    if (!first) return;
    const more = told.length > 2 ? `, and ${told.length - 1} steps more` : "";
    for (const line of told.length > 2 ? [first] : told) this.notify(`${line.who}: ${line.text.replace(/^# /, "")}${more}`, "told");
  }

  /** The first message after the hello: requests without an answer go out (again). */
  private welcome(): void {
    if (this.store.getState().connection === "live") return;
    this.tries = 0;
    this.store.setState({ connection: "live" });
    for (const { text } of this.waiting.values()) this.socket?.send(text);
  }

  /** Asks before steps that somebody else may have written do what only this seat can see; then they are asked for again with their very text. */
  private askFirst({ what }: Waiting, problem: Problem): boolean {
    const [text] = problem.details ?? [];
    if (problem.code !== "needs-confirming" || !text) return false;
    this.toConfirm(text, () => void this.act(what, text));
    return true;
  }

  private answered(message: Extract<Message, { type: "answer" }>): void {
    const waiting = message.id ? this.waiting.get(message.id) : undefined;
    if (!waiting) {
      if (message.problem && !["needs-seat-key", "seat-left"].includes(message.problem.code))
        this.store.setState({ ended: message.problem.detail });
      return;
    }
    this.waiting.delete(message.id ?? "");
    this.store.setState((s) => ({ guesses: s.guesses.filter((g) => g.id !== message.id) }));
    if (message.problem) {
      if (!this.askFirst(waiting, message.problem))
        this.notify(message.problem.stands ? `${message.problem.detail} What came before it is done.` : message.problem.detail, "refused");
      waiting.settle(message.problem);
    } else if (message.answer) {
      waiting.settle(message.answer);
    }
  }
}

function socketAddress(room: string): string {
  const protocol = location.protocol === "https:" ? "wss:" : "ws:";
  return `${protocol}//${location.host}/api/rooms/${encodeURIComponent(room)}/live`;
}

export function isProblem(result: Answer | Problem): result is Problem {
  return "code" in result;
}
