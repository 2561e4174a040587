import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { toldOf, viewOf } from "../testing/samples";
import { latestSocket, TestSocket } from "../testing/service";
import { RoomConnection } from "./live";
import { shown } from "./source";

const view = viewOf({ seats: [], decks: [] });
const latest = latestSocket;

describe("RoomConnection", () => {
  let connection: RoomConnection;
  const confirming: { text: string; then: () => void }[] = [];
  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal("WebSocket", TestSocket);
    TestSocket.all = [];
    connection = new RoomConnection(
      { key: "k", room: "r", seat: 1, name: "Ada" },
      (text, then) => confirming.push({ text, then }),
      "ws://here",
    );
    connection.start();
    latest().open();
    latest().says({ type: "view", gate: "g", told: 4, view: toldOf(view) });
  });
  afterEach(() => {
    connection.stop();
    vi.useRealTimers();
    vi.unstubAllGlobals();
  });

  it("says hello with its key and is live with the first view", () => {
    expect(latest().sent[0]).toEqual({ type: "hello", key: "k", gate: "", told: 0 });
    expect(connection.store.getState().connection).toBe("live");
  });

  it("comes back from where it was", () => {
    latest().says({ type: "changes" });
    latest().close();
    expect(connection.store.getState().connection).toBe("lost");
    vi.advanceTimersByTime(250);
    latest().open();
    expect(latest().sent[0]).toEqual({ type: "hello", key: "k", gate: "g", told: 5 });
    latest().says({ type: "resumed", gate: "g", told: 5 });
    expect(connection.store.getState().told).toBe(5);
    expect(connection.store.getState().connection).toBe("live");
  });

  it("sends an unanswered request again with the same id, and settles it once", async () => {
    const done = connection.act({ steps: "shuffle sky" });
    const id = latest().sent[1]?.id;
    latest().close();
    vi.advanceTimersByTime(250);
    latest().open();
    latest().says({ type: "view", gate: "h", told: 1, view: toldOf(view) });
    expect(latest().sent[1]).toMatchObject({ type: "act", id, steps: "shuffle sky" });
    latest().says({ type: "answer", id: id as string, answer: { told: 2, done: "before" } });
    await expect(done).resolves.toMatchObject({ done: "before" });
  });

  it("shows a refusal and takes it away by itself", async () => {
    const done = connection.act({ steps: "draw 9 from sky" });
    const id = latest().sent[1]?.id as string;
    latest().says({
      type: "answer",
      id,
      problem: { type: "", title: "", status: 409, code: "too-few-cards", detail: "sky has 0 cards, you asked for 9." },
    });
    await expect(done).resolves.toMatchObject({ code: "too-few-cards" });
    expect(connection.store.getState().notices.map((n) => n.text)).toEqual(["sky has 0 cards, you asked for 9."]);
    vi.advanceTimersByTime(6000);
    expect(connection.store.getState().notices).toEqual([]);
  });

  it("asks before steps of a cue do what only this seat sees, and sends their very text", async () => {
    const done = connection.act({ steps: "run cue" });
    const id = latest().sent[1]?.id as string;
    latest().says({
      type: "answer",
      id,
      problem: {
        type: "",
        title: "",
        status: 409,
        code: "needs-confirming",
        detail: "These steps would show cards.",
        details: ["show my hand"],
      },
    });
    await expect(done).resolves.toMatchObject({ code: "needs-confirming" });
    expect(latest().sent).toHaveLength(2);
    expect(connection.store.getState().notices).toEqual([]);
    expect(confirming[0]?.text).toBe("show my hand");
    confirming[0]?.then();
    expect(latest().sent[2]).toMatchObject({ steps: "run cue", confirm: "show my hand" });
    expect(latest().sent[2]?.id).not.toBe(id);
  });

  it("says that what came before a refused step is done", () => {
    void connection.act({ steps: "draw 1 from sky\ndraw 9 from sky" });
    latest().says({
      type: "answer",
      id: latest().sent[1]?.id as string,
      problem: { type: "", title: "", status: 409, code: "too-few-cards", detail: "sky has 0 cards.", stands: true },
    });
    expect(connection.store.getState().notices.map((n) => n.text)).toEqual(["sky has 0 cards. What came before it is done."]);
  });

  it("takes silence for a lost connection", () => {
    vi.advanceTimersByTime(41_000);
    expect(connection.store.getState().connection).not.toBe("live");
  });

  it("ends when its key opens nothing any more", () => {
    latest().says({
      type: "answer",
      problem: { type: "", title: "", status: 401, code: "needs-seat-key", detail: "This needs the key of a seat." },
    });
    latest().close(4001);
    expect(connection.store.getState()).toMatchObject({
      connection: "ended",
      ended: "Your seat was freed or handed on. You can take a free one at the entrance.",
    });
  });

  it("tells many steps of one action in one notice", () => {
    const line = (number: number) => ({
      seat: 2,
      who: "Bo",
      do: number === 1 ? "run" : "shuffle",
      text: number === 1 ? "run setup" : "shuffle sky",
      number,
      at: 0,
    });
    latest().says({ type: "changes", log: [1, 2, 3, 4].map(line) });
    expect(connection.store.getState().notices.map((n) => n.text)).toEqual(["Bo: run setup, and 3 steps more"]);
  });

  it("draws the table once for messages that come together", () => {
    let drawn = 0;
    vi.advanceTimersByTime(1000);
    const stop = connection.store.subscribe((now, before) => {
      if (now.view !== before.view) drawn++;
    });
    for (let n = 0; n < 4; n++) latest().says({ type: "changes" });
    expect(connection.store.getState().told).toBe(5);
    vi.advanceTimersByTime(100);
    expect([drawn, connection.store.getState().told]).toEqual([2, 8]);
    stop();
  });

  it("shows one's own act at once, and takes it back when it is refused", async () => {
    const counter = () => shown(connection.store.getState())?.pieces[0]?.value;
    latest().says({ type: "changes", pieces: [{ id: "day", name: "day", kind: "counter", x: 0, y: 0, value: 1 }] });
    const done = connection.act({ action: { do: "set", piece: "day", by: 1 } });
    expect(counter()).toBe(2);
    const id = String(latest().sent.at(-1)?.id);
    latest().says({
      type: "answer",
      id,
      problem: { type: "", title: "", status: 409, code: "out-of-bounds", detail: "day goes up to 1." },
    });
    await done;
    expect(counter()).toBe(1);
  });

  it("tells what others did, and that nothing is being saved", () => {
    latest().says({
      type: "changes",
      log: [
        { seat: 2, who: "Bo", do: "shuffle", text: "shuffle sky", number: 1, at: 0 },
        { seat: 1, who: "Ada", do: "flip", text: "flip sky", number: 2, at: 0 },
      ],
    });
    latest().says({ type: "notice", code: "not-saving", text: "Not saving; retrying." });
    expect(connection.store.getState().notices.map((n) => n.text)).toEqual(["Bo: shuffle sky", "Not saving; retrying."]);
    expect(connection.store.getState().saving).toBe(false);
    latest().says({ type: "notice", code: "saving", text: "Saving again." });
    expect(connection.store.getState().saving).toBe(true);
  });
});
