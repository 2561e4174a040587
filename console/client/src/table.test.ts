import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { latestSocket as latest, TestSocket } from "../../src/testing/service";
import { toldOf, viewOf } from "../../src/testing/samples";
import { Refused, Table, join } from "./table";

const view = toldOf(viewOf({ seats: [], decks: [] }));

describe("Table", () => {
  let table: Table;
  beforeEach(() => {
    vi.stubGlobal("WebSocket", TestSocket);
    TestSocket.all = [];
    table = new Table("https://table.example/", { key: "k", room: "r", seat: 1, name: "Ada" });
  });
  afterEach(() => {
    table.stop();
    vi.unstubAllGlobals();
  });

  async function sitDown() {
    const sitting = table.start();
    latest().open();
    latest().says({ type: "view", gate: "g", told: 1, view });
    await sitting;
  }

  it("is there with its first view", async () => {
    await sitDown();
    expect(latest().address).toBe("wss://table.example/api/rooms/r/live");
    expect(table.state.view?.seats).toEqual([]);
  });

  it("says a cue's text when it is asked to confirm it", async () => {
    await sitDown();
    const first = table.do("run dawn");
    const problem = { type: "", title: "", status: 409, code: "needs-confirming", detail: "Read it first.", details: ["show my hand"] };
    latest().says({ type: "answer", id: latest().sent[1]?.id as string, problem });
    const refused = await first.catch((e: unknown) => e);
    expect(refused).toBeInstanceOf(Refused);
    const again = table.do("run dawn", (refused as Refused).problem.details?.[0]);
    expect(latest().sent[2]).toMatchObject({ steps: "run dawn", confirm: "show my hand" });
    latest().says({ type: "answer", id: latest().sent[2]?.id as string, answer: { told: 2, done: "now" } });
    await expect(again).resolves.toMatchObject({ told: 2 });
  });

  it("leaves nobody waiting once its key opens nothing", async () => {
    await sitDown();
    const asked = table.do("shuffle sky");
    latest().close(4001);
    await expect(asked).rejects.toThrow("opens no seat");
    await expect(table.do("shuffle sky")).rejects.toThrow("opens no seat");
  });

  it("does not come in with a key that opens nothing", async () => {
    const sitting = table.start();
    latest().close(4001);
    await expect(sitting).rejects.toThrow("opens no seat");
  });

  it("finds a line that went silent by its own clock, though nothing tells of it", async () => {
    vi.useFakeTimers();
    await sitDown();
    const silent = latest();
    silent.close = () => undefined; // a line that is gone is closed by nobody
    vi.advanceTimersByTime(4000);
    expect(silent.sent.some((m) => m.type === "pulse")).toBe(true);
    expect(table.connection).toBe("live");
    vi.advanceTimersByTime(4000);
    expect(table.connection).toBe("lost");
    vi.advanceTimersByTime(300);
    expect(latest()).not.toBe(silent);
    latest().open();
    expect(latest().sent[0]).toMatchObject({ type: "hello", gate: "g", told: 1 });
    latest().says({ type: "resumed", gate: "g", told: 1 });
    expect(table.connection).toBe("live");
    vi.useRealTimers();
  });

  it("comes back where all that is told is an error", async () => {
    vi.useFakeTimers();
    await sitDown();
    const former = latest();
    former.onerror?.();
    expect(table.connection).toBe("lost");
    vi.advanceTimersByTime(300);
    expect(latest()).not.toBe(former);
    vi.useRealTimers();
  });

  it("does not wait for ever for a first view", async () => {
    vi.useFakeTimers();
    const sitting = table.start(5000).catch((why: unknown) => String(why));
    await vi.advanceTimersByTimeAsync(6000);
    expect(await sitting).toContain("did not show the table within 5 seconds");
    vi.useRealTimers();
  });

  it("says what is wrong where a proxy answers in place of the service, or nobody", async () => {
    vi.stubGlobal(
      "fetch",
      vi.fn(() => Promise.resolve(new Response("<html>502 Bad Gateway</html>", { status: 502, statusText: "Bad Gateway" }))),
    );
    await expect(join("https://table.example", "r", { name: "Ada" })).rejects.toThrow(
      "is no Damselfly, or a proxy before one that is not there (502",
    );
    vi.stubGlobal(
      "fetch",
      vi.fn(() => Promise.reject(new TypeError("fetch failed"))),
    );
    await expect(join("https://table.example", "r", { name: "Ada" })).rejects.toThrow("Nothing answers at https://table.example");
  });

  it("takes a class of sockets that is handed in, and says so where there is none", async () => {
    vi.stubGlobal("WebSocket", undefined);
    const joined = { key: "k", room: "r", seat: 1, name: "Ada" };
    await expect(new Table("https://table.example", joined).start()).rejects.toThrow("hand one in");
    const handed = new Table("https://table.example", joined, { WebSocket: TestSocket as never });
    const sitting = handed.start();
    latest().open();
    latest().says({ type: "view", gate: "g", told: 1, view });
    await sitting;
    handed.stop();
  });

  it("leaves nobody waiting once it is left", async () => {
    await sitDown();
    const asked = table.do("shuffle sky");
    table.stop();
    await expect(asked).rejects.toThrow("was left");
  });
});
