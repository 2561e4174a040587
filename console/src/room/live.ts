// One person at a room, as the console shows it: what was heard over the socket, what one's own acts will most
// likely do, and notices.
import { bare, fold, type TableState } from "../../client/src/fold";
import { RoomSocket, socketAddress, type Connection } from "../../client/src/socket";
import { api, sentence, type Answer, type Asked, type Joined, type Message, type Problem } from "../api/client";
import { service } from "../api/service";
import { guess } from "./guess";
import { shown, type Live, type Notice, type PicturePut, type StepsChecked, type TableSource } from "./source";
import { create, type StoreApi, type UseBoundStore } from "zustand";

/** Milliseconds between two messages of where the pointer is. */
const pointEvery = 90;
/** Messages that come within this many milliseconds of another are shown together. */
const together = 24;
export class RoomConnection implements TableSource {
  readonly alone = false;
  readonly store: UseBoundStore<StoreApi<Live>>;
  private readonly socket: RoomSocket;
  private nextNotice = 1;

  /** toConfirm shows the text of steps and goes on if they shall be done. */
  constructor(
    readonly joined: Joined,
    private readonly toConfirm: (text: string, then: () => void) => void,
    address = socketAddress(service, joined.room),
  ) {
    this.store = create<Live>(() => ({ ...bare, connection: "connecting", saving: true, notices: [], ended: "", guesses: [] }));
    this.socket = new RoomSocket(joined, address, {
      heard: (message, asked) => this.hear(message, asked),
      connection: (now) => this.connected(now),
    });
  }

  start(): void {
    this.socket.start();
  }

  stop(): void {
    clearTimeout(this.showing);
    this.socket.stop();
  }

  /** Does an action, or Steps. Resolves once it is kept and shown, or with the problem. */
  act(what: Asked, confirm?: string): Promise<Answer | Problem> {
    const { id, done } = this.socket.ask(what, confirm);
    if ("action" in what) this.guess(id, what.action);
    return done;
  }

  /** Shows at once what an action will most likely do. */
  private guess(id: string, action: Extract<Asked, { action: unknown }>["action"]): void {
    this.show();
    const view = shown(this.store.getState());
    if (view && this.store.getState().connection === "live")
      this.store.setState((s) => ({ guesses: [...s.guesses, { id, guess: guess(view, action) }] }));
  }

  /** Claims cards while they are dragged; none lets go. */
  grip(cards: string[]): void {
    this.socket.tell({ type: "grip", cards });
  }

  private pointed = 0;

  /** Tells others where one's pointer is, some ten times a second at most; null: it left the table. */
  point(at: { x: number; y: number } | null): void {
    const now = performance.now();
    if (at && now - this.pointed < pointEvery) return;
    this.pointed = now;
    this.socket.tell({ type: "point", x: Math.round(at?.x ?? 0), y: Math.round(at?.y ?? 0), away: !at });
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

  private connected(now: Connection): void {
    if (now === "live") {
      this.store.setState({ connection: now });
      return;
    }
    this.show();
    if (now === "ended")
      this.store.setState((s) => ({
        connection: now,
        ended: s.ended || "Your seat was freed or handed on. You can take a free one at the entrance.",
      }));
    else this.store.setState({ connection: now, guesses: [] });
  }

  private hear(message: Message, asked?: Asked): void {
    if (message.type === "answer") {
      this.show(); // an answer rests on what came before it
      this.answered(message, asked);
      return;
    }
    if (message.type === "notice") {
      this.store.setState({ saving: message.code !== "not-saving" });
      if (message.text) this.notify(message.text, "service");
    }
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

  /** Asks before steps that somebody else may have written do what only this seat can see; then they are asked for again with their very text. */
  private askFirst(asked: Asked, problem: Problem): boolean {
    const [text] = problem.details ?? [];
    if (problem.code !== "needs-confirming" || !text) return false;
    this.toConfirm(text, () => void this.act(asked, text));
    return true;
  }

  private answered({ id, problem }: Extract<Message, { type: "answer" }>, asked?: Asked): void {
    if (!asked) {
      if (problem && !["needs-seat-key", "seat-left"].includes(problem.code)) this.store.setState({ ended: problem.detail });
      return;
    }
    this.store.setState((s) => ({ guesses: s.guesses.filter((g) => g.id !== id) }));
    if (problem && !this.askFirst(asked, problem))
      this.notify(problem.stands ? `${problem.detail} What came before it is done.` : problem.detail, "refused");
  }
}
