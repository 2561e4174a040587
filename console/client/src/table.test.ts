import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { latestSocket as latest, TestSocket } from "../../src/testing/service";
import { toldOf, viewOf } from "../../src/testing/samples";
import { Refused, Table } from "./table";

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

  it("leaves nobody waiting once it is left", async () => {
    await sitDown();
    const asked = table.do("shuffle sky");
    table.stop();
    await expect(asked).rejects.toThrow("was left");
  });
});
