import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Message, View } from "../api/client";
import { RoomConnection, shown } from "./live";

/** A socket that a test speaks through. */
class TestSocket {
  static all: TestSocket[] = [];
  static readonly OPEN = 1;
  readyState = 0;
  sent: Record<string, unknown>[] = [];
  onopen: (() => void) | null = null;
  onmessage: ((event: { data: string }) => void) | null = null;
  onclose: ((event: { code: number }) => void) | null = null;
  constructor(readonly address: string) {
    TestSocket.all.push(this);
  }
  send(text: string) {
    this.sent.push(JSON.parse(text) as Record<string, unknown>);
  }
  open() {
    this.readyState = 1;
    this.onopen?.();
  }
  says(message: Partial<Message>) {
    this.onmessage?.({ data: JSON.stringify(message) });
  }
  close(code = 1006) {
    this.readyState = 3;
    this.onclose?.({ code });
  }
}

const view: View = { you: 1, settings: { name: "Test", wide: 900, high: 600 }, seats: [], decks: [], places: [], pieces: [], marker: {}, asks: [] };
const latest = () => TestSocket.all[TestSocket.all.length - 1] as TestSocket;

describe("RoomConnection", () => {
  let connection: RoomConnection;
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal("WebSocket", TestSocket);
    TestSocket.all = [];
    connection = new RoomConnection({ key: "k", room: "r", seat: 1, name: "Ada" }, "ws://here");
    connection.start();
    latest().open();
    latest().says({ type: "view", gate: "g", seq: 4, own: 2, view });
  });
  afterEach(() => {
    connection.stop();
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("says hello with its key and is live with the first view", () => {
    expect(latest().sent[0]).toEqual({ type: "hello", key: "k", gate: "", seq: 0, own: 0 });
    expect(connection.store.getState().connection).toBe("live");
  });

  it("comes back from where it was", () => {
    latest().says({ type: "changes", seq: 5 });
    latest().close();
    expect(connection.store.getState().connection).toBe("lost");
    vi.advanceTimersByTime(250);
    latest().open();
    expect(latest().sent[0]).toEqual({ type: "hello", key: "k", gate: "g", seq: 5, own: 2 });
    latest().says({ type: "changes", gate: "g", seq: 5 });
    expect(connection.store.getState().connection).toBe("live");
  });

  it("sends an unanswered request again with the same id, and settles it once", async () => {
    const done = connection.act({ steps: "shuffle sky" });
    const id = latest().sent[1]?.id;
    latest().close();
    vi.advanceTimersByTime(250);
    latest().open();
    latest().says({ type: "view", gate: "h", seq: 1, view });
    expect(latest().sent[1]).toMatchObject({ type: "act", id, steps: "shuffle sky" });
    latest().says({ type: "answer", id: id as string, answer: { seq: 2, done: "before" } });
    await expect(done).resolves.toMatchObject({ done: "before" });
  });

  it("shows a refusal and takes it away by itself", async () => {
    const done = connection.act({ steps: "draw 9 from sky" });
    const id = latest().sent[1]?.id as string;
    latest().says({ type: "answer", id, problem: { type: "", title: "", status: 409, code: "too-few-cards", detail: "sky has 0 cards, you asked for 9." } });
    await expect(done).resolves.toMatchObject({ code: "too-few-cards" });
    expect(connection.store.getState().notices.map((n) => n.text)).toEqual(["sky has 0 cards, you asked for 9."]);
    vi.advanceTimersByTime(6000);
    expect(connection.store.getState().notices).toEqual([]);
  });

  it("takes silence for a lost connection", () => {
    vi.advanceTimersByTime(41_000);
    expect(connection.store.getState().connection).not.toBe("live");
  });

  it("ends when its key opens nothing any more", () => {
    latest().says({ type: "answer", problem: { type: "", title: "", status: 401, code: "needs-seat-key", detail: "This needs the key of a seat." } });
    latest().close(4001);
    expect(connection.store.getState()).toMatchObject({ connection: "ended", ended: "Your seat was freed or handed on. You can take a free one at the entrance." });
  });

  it("tells many steps of one action in one notice", () => {
    const line = (number: number) => ({ seat: 2, who: "Bo", text: number === 1 ? "run setup" : "shuffle sky", number, at: 0 });
    latest().says({ type: "changes", seq: 5, log: [1, 2, 3, 4].map(line) });
    expect(connection.store.getState().notices.map((n) => n.text)).toEqual(["Bo: run setup, and 3 steps more"]);
  });

  it("draws the table once for messages that come together", () => {
    let drawn = 0;
    vi.advanceTimersByTime(1000);
    const stop = connection.store.subscribe((now, before) => { if (now.view !== before.view) drawn++; });
    for (const seq of [5, 6, 7, 8]) latest().says({ type: "changes", seq });
    expect(connection.store.getState().seq).toBe(5);
    vi.advanceTimersByTime(100);
    expect([drawn, connection.store.getState().seq]).toEqual([2, 8]);
    stop();
  });

  it("shows one's own act at once, and takes it back when it is refused", async () => {
    const counter = () => shown(connection.store.getState())?.pieces[0]?.value;
    latest().says({ type: "changes", seq: 5, pieces: [{ id: "day", name: "day", kind: "counter", x: 0, y: 0, value: 1 }] });
    const done = connection.act({ action: { do: "set", piece: "day", by: 1 } });
    expect(counter()).toBe(2);
    const id = String(latest().sent.at(-1)?.id);
    latest().says({ type: "answer", id, problem: { type: "", title: "", status: 409, code: "out-of-bounds", detail: "day goes up to 1." } });
    await done;
    expect(counter()).toBe(1);
  });

  it("tells what others did, and that nothing is being saved", () => {
    latest().says({ type: "changes", seq: 5, log: [{ seat: 2, who: "Bo", text: "shuffle sky", number: 1, at: 0 }, { seat: 1, who: "Ada", text: "flip sky", number: 2, at: 0 }] });
    latest().says({ type: "notice", code: "not-saving", text: "Not saving; retrying." });
    expect(connection.store.getState().notices.map((n) => n.text)).toEqual(["Bo: shuffle sky", "Not saving; retrying."]);
    expect(connection.store.getState().saving).toBe(false);
    latest().says({ type: "notice", code: "saving", text: "Saving again." });
    expect(connection.store.getState().saving).toBe(true);
  });
});
