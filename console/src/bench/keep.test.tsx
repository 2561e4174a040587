import { cleanup, fireEvent, screen, within } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { serviceThat } from "../testing/service";
import { renderAsking } from "../testing/table";

/** The browser's store, and the core in its worker, which run in browsers only. */
const inBrowser = vi.hoisted(() => ({
  stored: new Map<string, unknown>(),
  full: null as DOMException | null,
  wrong: [] as { file: string; text: string }[],
}));
vi.mock("idb-keyval", () => ({
  createStore: () => ({}),
  get: async (key: string) => inBrowser.stored.get(key),
  set: async (key: string, value: unknown) => {
    if (inBrowser.full) throw inBrowser.full;
    inBrowser.stored.set(key, value);
  },
  del: async (key: string) => void inBrowser.stored.delete(key),
}));
vi.mock("comlink", () => ({
  wrap: () => ({
    put: async () => undefined,
    drop: async () => undefined,
    check: async () => ({ mistakes: inBrowser.wrong, warnings: [], decks: [] }),
    hash: async (name: string) => `hash of ${name}`,
    compareWith: async () => ({ table: ["mat"] }),
    showPicture: async () => new Blob(),
  }),
}));
vi.stubGlobal("Worker", vi.fn());

const { edit, openDraft, putFiles, undo, redo, useDraft } = await import("./draft");
const { forgetDraft, goOnWith, keepDrafts, keptDraft, useNotKept } = await import("./keptDraft");
const { Keep } = await import("./Keep");
const { useMaker } = await import("../maker/maker");

const text = (s: string) => new TextEncoder().encode(s);
const kit = { "kit.yaml": text("kit: 1\nname: Marsh Post\nseats: 2\n"), "art.png": new Uint8Array(1000) };
const origin = { kit: "k1", name: "Marsh Post", edition: 2 };
const put = {
  id: "k1",
  name: "Marsh Post",
  edition: 3,
  fresh: true,
  seats: 2,
  cards: 4,
  at: 0,
  maker: "Reed",
  reach: "private",
  decks: [],
  warnings: [],
};
const room = {
  id: "r1",
  name: "Thursday",
  path: "/room/r1",
  link: "",
  kit: "k1",
  kit_name: "",
  edition: 2,
  newest: 3,
  people: 3,
  seats: 2,
  at: 0,
  last_at: 0,
};

describe("drafts in this browser", () => {
  let stop: () => void;
  beforeEach(async () => {
    vi.useFakeTimers();
    inBrowser.stored.clear();
    inBrowser.full = null;
    await openDraft();
    stop = keepDrafts();
  });
  afterEach(() => {
    stop();
    vi.useRealTimers();
  });
  const moment = () => vi.advanceTimersByTimeAsync(500);

  it("are written a moment after a change, and come back with what they were made from", async () => {
    await openDraft(kit, origin);
    await moment();
    expect(inBrowser.stored.size).toBe(0); // it is the edition still
    edit(["seats"], 3);
    expect(inBrowser.stored.size).toBe(0);
    await moment();
    const kept = await keptDraft("k1");
    expect(kept).toMatchObject({ of: origin, name: "Marsh Post" });
    await openDraft();
    await goOnWith(kept as NonNullable<typeof kept>);
    expect(useDraft.getState()).toMatchObject({ of: origin, changed: true, manifest: { seats: 3 } });
  });

  it("are forgotten once all is undone, and written again when it is done again", async () => {
    await openDraft(kit, origin);
    edit(["seats"], 3);
    await moment();
    edit(["seats"], 4);
    await undo();
    await undo();
    await moment();
    expect(await keptDraft("k1")).toBeUndefined();
    await redo();
    await moment();
    expect(await keptDraft("k1")).toMatchObject({ of: origin });
  });

  it("are written at once when another is opened", async () => {
    await openDraft(kit, origin);
    edit(["seats"], 3);
    await openDraft({ "kit.yaml": text("kit: 1\nname: Harbour\n") }, { kit: "k2", name: "Harbour", edition: 1 });
    await moment();
    const kept = await keptDraft("k1");
    expect(new TextDecoder().decode(kept?.files["kit.yaml"])).toContain("seats: 3");
    expect(await keptDraft("k2")).toBeUndefined();
  });

  it("of no kit yet are kept apart from those of kits", async () => {
    edit(["name"], "Mine");
    await moment();
    expect((await keptDraft())?.name).toBe("Mine");
    expect(await keptDraft("k1")).toBeUndefined();
  });

  it("are not written any more once they are forgotten", async () => {
    await openDraft(kit, origin);
    edit(["seats"], 3);
    await forgetDraft("k1");
    await moment();
    expect(await keptDraft("k1")).toBeUndefined();
  });

  it("say so where the browser has no room, or keeps nothing, until it does again", async () => {
    inBrowser.full = new DOMException("", "QuotaExceededError");
    edit(["seats"], 3);
    await moment();
    expect(useNotKept.getState().why).toContain("no room left");
    inBrowser.full = new DOMException("", "InvalidStateError");
    edit(["seats"], 4);
    await moment();
    expect(useNotKept.getState().why).toContain("keeps no drafts");
    inBrowser.full = null;
    edit(["seats"], 5);
    await moment();
    expect(useNotKept.getState().why).toBe("");
  });
});

/** An upload that a test lets on. */
class Upload {
  static all: Upload[] = [];
  static answer = { status: 201, text: "{}" };
  static holds = false;
  upload: { onprogress?: (e: { loaded: number }) => void } = {};
  headers: Record<string, string> = {};
  status = 0;
  responseText = "";
  onload?: () => void;
  onerror?: () => void;
  onabort?: () => void;
  sent?: Uint8Array;
  open = vi.fn();
  constructor() {
    Upload.all.push(this);
  }
  setRequestHeader(name: string, value: string) {
    this.headers[name] = value;
  }
  send(bytes: Uint8Array) {
    this.sent = bytes;
    if (!Upload.holds) queueMicrotask(() => this.end());
  }
  end() {
    this.status = Upload.answer.status;
    this.responseText = Upload.answer.text;
    if (this.status === 0) this.onerror?.();
    else this.onload?.();
  }
  abort() {
    this.onabort?.();
  }
}

describe("keeping the draft", () => {
  const service = (answers: Parameters<typeof serviceThat>[0] = {}) =>
    serviceThat({
      "POST /api/files/lacking": [200, { hashes: ["hash of art.png"] }],
      "POST /api/editions": [201, put],
      "GET /api/rooms": [200, { rooms: [] }],
      "GET /api/kits": [200, { kits: [] }],
      ...answers,
    });
  beforeEach(async () => {
    vi.stubGlobal("XMLHttpRequest", Upload);
    Upload.all = [];
    Upload.holds = false;
    Upload.answer = { status: 201, text: "{}" };
    inBrowser.wrong = [];
    useMaker.setState({ key: "KEY" });
    await openDraft();
    await putFiles(kit);
    useDraft.setState({ of: null, found: { mistakes: [], warnings: [], decks: [] }, error: "" });
  });
  afterEach(() => {
    cleanup();
    vi.unstubAllGlobals();
    vi.stubGlobal("Worker", vi.fn());
  });
  const shown = () =>
    renderAsking(
      <MemoryRouter>
        <Keep />
      </MemoryRouter>,
    );
  const press = async (name: string) => fireEvent.click(await screen.findByRole("button", { name }));

  it("is for makers, and for kits that can be made", async () => {
    useMaker.setState({ key: "" });
    shown();
    const keep = screen.getByRole<HTMLButtonElement>("button", { name: "Keep …" });
    expect([keep.disabled, keep.title]).toEqual([true, "For makers: open the link that you were sent as one"]);
    cleanup();
    useMaker.setState({ key: "KEY" });
    useDraft.setState({ found: { mistakes: [{ file: "kit.yaml", text: "no" }], warnings: [], decks: [] } });
    shown();
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Keep …" }).title).toBe("Something is to be mended first");
  });

  it("sends what the service lacks alone, and says which edition it is", async () => {
    const asked = service();
    shown();
    await press("Keep …");
    fireEvent.change(await screen.findByLabelText("What is new in it, if you like"), { target: { value: "wetter" } });
    await press("Keep it");
    expect(await screen.findByText("It is edition 3 of Marsh Post.")).toBeTruthy();
    expect(Upload.all.map((u) => [u.sent?.length, u.headers.Authorization])).toEqual([[1000, "Bearer KEY"]]);
    const body = asked.find((a) => a.path === "/api/editions")?.body as { files: { name: string }[]; note: string };
    expect(body).toMatchObject({ note: "wetter", despite_warnings: false });
    expect(body.files.map((f) => f.name).sort()).toEqual(["art.png", "kit.yaml"]);
    expect(useDraft.getState()).toMatchObject({ of: { kit: "k1", edition: 3 }, changed: false });
  });

  it("does not take for kept what was changed meanwhile", async () => {
    Upload.holds = true;
    service();
    shown();
    await press("Keep …");
    await press("Keep it");
    await vi.waitFor(() => expect(Upload.all.length).toBe(1));
    edit(["seats"], 4);
    Upload.all[0]?.end();
    await screen.findByText("It is edition 3 of Marsh Post.");
    expect(useDraft.getState().changed).toBe(true);
  });

  it("tells how much was sent, and stops where one cancels", async () => {
    Upload.holds = true;
    const asked = service();
    shown();
    await press("Keep …");
    await press("Keep it");
    await vi.waitFor(() => expect(Upload.all.length).toBe(1));
    Upload.all[0]?.upload.onprogress?.({ loaded: 420 });
    expect(await screen.findByText("Sending what is new: 42 %")).toBeTruthy();
    await press("Cancel");
    await vi.waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(asked.some((a) => a.path === "/api/editions")).toBe(false);
    expect(useDraft.getState().changed).toBe(true);
  });

  it("is simply tried again where the connection broke", async () => {
    Upload.answer = { status: 0, text: "" };
    const asked = service();
    shown();
    await press("Keep …");
    await press("Keep it");
    expect((await screen.findByRole("alert")).textContent).toContain("what was sent already is not sent twice");
    Upload.answer = { status: 201, text: "{}" };
    await press("Try again");
    expect(await screen.findByText("It is edition 3 of Marsh Post.")).toBeTruthy();
    expect(asked.filter((a) => a.path === "/api/files/lacking").length).toBe(2);
  });

  it("is refused in the service's words where an upload is", async () => {
    Upload.answer = {
      status: 413,
      text: JSON.stringify({ status: 413, code: "too-large", title: "Too large", detail: "A file has at most 64 MiB." }),
    };
    service();
    shown();
    await press("Keep …");
    await press("Keep it");
    expect((await screen.findByRole("alert")).textContent).toBe("A file has at most 64 MiB.");
    expect(screen.queryByRole("button", { name: "Try again" })).toBeNull();
  });

  it("that looks wrong is kept when one says so", async () => {
    let told = false;
    const asked = service({
      "POST /api/editions": ({ body }) => {
        told = true;
        if (body?.despite_warnings) return [201, put];
        return [
          422,
          {
            status: 422,
            code: "kit-looks-wrong",
            title: "Some cards look wrong",
            detail: "a",
            details: Array.from({ length: 10 }, (_, i) => `cell ${i}`),
          },
        ];
      },
    });
    shown();
    await press("Keep …");
    await press("Keep it");
    const alert = within(await screen.findByRole("alert"));
    expect(told).toBe(true);
    expect(alert.getByText("cell 7")).toBeTruthy();
    expect(alert.getByText("and 2 more")).toBeTruthy();
    await press("Keep it as it is");
    expect(await screen.findByText("It is edition 3 of Marsh Post.")).toBeTruthy();
    expect(asked.filter((a) => a.path === "/api/editions").length).toBe(2);
  });

  it("is compared with the edition as it was opened, which is not fetched again", async () => {
    useDraft.setState({ of: origin, kept: useDraft.getState().files });
    const asked = service({});
    shown();
    await press("Keep …");
    expect(await screen.findByText(/^Against edition 2: /)).toBeTruthy();
    expect(asked.filter((a) => a.path.endsWith("/zip"))).toEqual([]);
  });

  it("asks before it comes after an edition that somebody kept meanwhile", async () => {
    useDraft.setState({ of: origin, kept: null });
    const asked = service({
      "GET /api/kits/k1/zip": [404, { detail: "no zip here" }],
      "POST /api/editions": ({ body }) =>
        body?.after === 2
          ? [
              409,
              {
                status: 409,
                code: "edition-came-between",
                title: "Another",
                detail: "Edition 5 came between.",
                numbers: { newest: 5, after: 2 },
              },
            ]
          : [201, { ...put, edition: 6 }],
    });
    shown();
    await press("Keep …");
    expect(await screen.findByText(/What differs from edition 2 cannot be told: no zip here/)).toBeTruthy();
    await press("Keep it");
    expect((await screen.findByRole("alert")).textContent).toBe("Edition 5 came between.");
    await press("Keep it after edition 5");
    expect(await screen.findByText("It is edition 6 of Marsh Post.")).toBeTruthy();
    expect(asked.filter((a) => a.path === "/api/editions").map((a) => a.body?.after)).toEqual([2, 5]);
  });

  it("says that nothing has changed, and offers it to the rooms that play a former edition", async () => {
    service({
      "POST /api/editions": [201, { ...put, fresh: false }],
      "GET /api/rooms": [
        200,
        { rooms: [room, { ...room, id: "r2", name: "New", edition: 3 }, { ...room, id: "r3", name: "Over", ended: true }] },
      ],
      "GET /api/kits/k1/compare": [200, {}],
    });
    shown();
    await press("Keep …");
    await press("Keep it");
    expect(await screen.findByText("Nothing has changed since edition 3 of Marsh Post.")).toBeTruthy();
    const lines = await vi.waitFor(() => {
      const found = screen.getAllByRole("listitem");
      expect(found.length).toBe(1);
      return found;
    });
    expect(lines[0]?.textContent).toContain("Thursday, 3 people");
    await press("Take it in");
    expect(await screen.findByRole("heading", { name: "Take edition 3 into Thursday" })).toBeTruthy();
  });

  it("leads to a room", async () => {
    service();
    shown();
    await press("Keep …");
    await press("Keep it");
    await press("Open a room");
    expect((await screen.findByLabelText<HTMLInputElement>("Name")).value).toBe("Marsh Post");
  });
});
