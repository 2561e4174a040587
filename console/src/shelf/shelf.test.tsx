import { cleanup, fireEvent, screen, within } from "@testing-library/react";
import { zipSync } from "fflate";
import type { ReactNode } from "react";
import { MemoryRouter, Route, Routes, useLocation } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { useMaker } from "../maker/maker";
import { KitPage } from "../pages/KitPage";
import { ShelfPage } from "../pages/ShelfPage";
import { Asking } from "../parts/Asking";
import { serviceThat } from "../testing/service";
import { renderAsking } from "../testing/table";
import { ComparisonShown, inShort, type Comparison } from "./Comparison";
import { plural } from "../parts/plural";
import { ago, type Bookmark, type Kit, type KitPage as Page, type RoomRow } from "./shelf";

const kit: Kit = {
  id: "k1",
  name: "Marsh Post",
  about: "Couriers in a marsh.",
  edition: 2,
  at: 0,
  seats: 5,
  cards: 154,
  maker: "Reed",
  mine: true,
  reach: "private",
  fan: ["aaaa", "bbbb"],
};
const page: Page = {
  ...kit,
  path: "/kit/k1",
  link: "http://marsh.example/kit/k1",
  decks: [{ key: "weather", designs: 20, cards: 40 }],
  description: "**Wet** feet.",
  rules: "# How it is played\n\nWade.",
  editions: [
    { number: 2, at: 0, note: "redder hearts" },
    { number: 1, at: 0, note: "" },
  ],
};
const room: RoomRow = {
  id: "r1",
  name: "Thursday",
  path: "/room/r1",
  link: "http://marsh.example/room/r1",
  kit: "k1",
  kit_name: "Marsh Post",
  edition: 1,
  newest: 2,
  people: 3,
  seats: 5,
  at: 0,
  last_at: Date.now(),
};
const bookmark: Bookmark = { id: "b1", name: "Before the flood", kit: "k1", kit_name: "Marsh Post", edition: 1, seats: 5, at: 0 };
const weather = (key: string, change = {}) => ({
  key,
  name: key,
  copies: 1,
  front: { small: key, full: key },
  back: { small: "b", full: "b" },
  ...change,
});
const comparison = {
  decks: [
    {
      key: "weather",
      change: "changed",
      changed: [
        {
          before: weather("gale", { copies: 1 }),
          after: weather("gale", { copies: 3 }),
          words: [{ field: "title", before: "Gale", after: "Great gale" }],
        },
      ],
      added: [weather("hail", { copies: 2 })],
      removed: [weather("drizzle")],
    },
  ],
  zones: [{ key: "weather", change: "changed" }],
  table: ["mat"],
} as unknown as Comparison;

/** What stands on the shelf of these tests, and what it is asked. */
const shelfWith = (answers: Parameters<typeof serviceThat>[0] = {}) =>
  serviceThat({
    "GET /api/maker": [200, { id: "m", name: "Reed", at: 0 }],
    "GET /api/kits": ({ query }) => [200, { kits: query.get("removed") === "true" ? [] : [kit] }],
    "GET /api/rooms": ({ query }) => [200, { rooms: query.get("removed") === "true" ? [] : [room] }],
    "GET /api/bookmarks": [200, { bookmarks: [bookmark] }],
    "GET /api/shelf": [200, { kits: [] }],
    "GET /api/kits/k1": [200, page],
    "GET /api/kits/k1/compare": [200, comparison],
    ...answers,
  });

function Elsewhere() {
  const at = useLocation();
  return <p>at {at.pathname}</p>;
}

const open = (path: string, what: ReactNode) =>
  renderAsking(
    <MemoryRouter initialEntries={[path]}>
      <Routes>
        <Route path="/" element={what} />
        <Route path="/kit/:kit" element={<KitPage />} />
        <Route path="*" element={<Elsewhere />} />
      </Routes>
      <Asking />
    </MemoryRouter>,
  );

/** Opens a thing's More, and returns what stands there. */
async function moreOf(of: string): Promise<HTMLElement[]> {
  const toggle = await screen.findByRole("button", { name: `More for ${of}` });
  fireEvent.click(toggle);
  return within(toggle.parentElement as HTMLElement)
    .getAllByRole("button")
    .filter((b) => b !== toggle);
}

/** Chooses what stands behind a thing's More. */
async function more(of: string, act: string) {
  fireEvent.click((await moreOf(of)).find((b) => b.textContent === act) as HTMLElement);
}

const answerWith = async (name: string) => fireEvent.click(await screen.findByRole("button", { name }));
/** A file as a person chooses it; jsdom's have no arrayBuffer. */
const file = (bytes: Uint8Array) => Object.assign(new File([], "some.zip"), { arrayBuffer: async () => bytes.buffer });

const button = (name: string) => screen.findByRole<HTMLButtonElement>("button", { name });

beforeEach(() => useMaker.setState({ key: "KEY" }));
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

describe("a kit on the shelf", () => {
  it("says what it is, and leads to its page and to the bench", async () => {
    shelfWith();
    open("/", <ShelfPage />);
    const card = within(await screen.findByRole("article", { name: "Marsh Post" }));
    expect(card.getByText("5 seats · 154 cards · edition 2")).toBeTruthy();
    expect(card.getByRole("link", { name: "Marsh Post" }).getAttribute("href")).toBe("/kit/k1");
    const fan = [...document.querySelectorAll<HTMLImageElement>(".cover-fan img")].map((i) => i.getAttribute("src"));
    expect(fan).toEqual(["aaaa", "bbbb"].map((name) => `${location.origin}/pictures/${name}/small`));
    fireEvent.click(card.getByRole("button", { name: "Work on it" }));
    expect(await screen.findByText("at /bench/k1")).toBeTruthy();
  });

  it("is copied and removed, which is asked first", async () => {
    const asked = shelfWith({
      "POST /api/kits/k1/copy": [201, kit],
      "DELETE /api/kits/k1": [204, null],
    });
    open("/", <ShelfPage />);
    await more("Marsh Post", "Copy");
    await vi.waitFor(() => expect(asked.some((a) => a.path === "/api/kits/k1/copy" && a.key === "Bearer KEY")).toBe(true));
    await more("Marsh Post", "Remove …");
    expect(await screen.findByText("Rooms that are open with it go on. For 30 days you can bring it back.")).toBeTruthy();
    expect(asked.some((a) => a.method === "DELETE")).toBe(false);
    await answerWith("No");
    await more("Marsh Post", "Remove …");
    const before = asked.filter((a) => a.path === "/api/kits").length;
    await answerWith("Remove it");
    await vi.waitFor(() => expect(asked.some((a) => a.method === "DELETE" && a.path === "/api/kits/k1")).toBe(true));
    await vi.waitFor(() => expect(asked.filter((a) => a.path === "/api/kits").length).toBeGreaterThan(before));
  });

  it("of another maker can be copied, but neither opened nor removed", async () => {
    shelfWith({ "GET /api/kits": [200, { kits: [] }], "GET /api/shelf": [200, { kits: [{ ...kit, mine: false, reach: "listed" }] }] });
    open("/", <ShelfPage />);
    const card = within(await screen.findByRole("article", { name: "Marsh Post" }));
    expect(card.getByText("5 seats · 154 cards · edition 2 · by Reed")).toBeTruthy();
    expect(card.getAllByRole("button").map((b) => b.textContent)).toEqual(["Copy to my shelf", "Take away"]);
    expect(screen.getByText(/Or copy a kit of others to your shelf/)).toBeTruthy();
  });

  it("is refused in the service's words, which can be put away", async () => {
    shelfWith({ "POST /api/kits/k1/copy": [403, { code: "too-many-kits", detail: "A shelf holds at most 500 kits." }] });
    open("/", <ShelfPage />);
    await more("Marsh Post", "Copy");
    const alert = await screen.findByRole("alert");
    expect(alert.textContent).toContain("A shelf holds at most 500 kits.");
    fireEvent.click(within(alert).getByRole("button", { name: /Close/ }));
    await vi.waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
  });
});

describe("a long shelf", () => {
  it("shows its first hundred, and all when asked", async () => {
    const many = Array.from({ length: 130 }, (_, i) => ({ ...kit, id: `k${i}`, name: `Kit ${i}` }));
    shelfWith({ "GET /api/kits": ({ query }) => [200, { kits: query.get("removed") === "true" ? [] : many }] });
    open("/", <ShelfPage />);
    await screen.findByRole("article", { name: "Kit 0" });
    expect(document.querySelectorAll(".kit-card").length).toBe(100);
    await answerWith("Show all 130 kits");
    expect(document.querySelectorAll(".kit-card").length).toBe(130);
    expect(screen.queryByRole("button", { name: /^Show all/ })).toBeNull();
  });
});

describe("opening a room", () => {
  it("asks for name, seats and passcode, and shows the link to be sent", async () => {
    const asked = shelfWith({ "POST /api/rooms": [201, { ...room, name: "Friday", only_here: true }] });
    open("/", <ShelfPage />);
    await answerWith("Open a room");
    fireEvent.change(await screen.findByLabelText("Name"), { target: { value: "Friday" } });
    const seats = screen.getByLabelText<HTMLSelectElement>("Seats");
    expect([...seats.options].map((o) => o.value)).toEqual(["1", "2", "3", "4", "5"]);
    fireEvent.change(seats, { target: { value: "3" } });
    fireEvent.change(screen.getByLabelText(/^Passcode/), { target: { value: "stork" } });
    fireEvent.click(screen.getByLabelText("People may watch without a seat"));
    await answerWith("Open it");
    expect(await screen.findByText("Friday is open")).toBeTruthy();
    expect(asked.find((a) => a.method === "POST")?.body).toEqual({
      kit: "k1",
      name: "Friday",
      seats: 3,
      passcode: "stork",
      spectators: false,
    });
    expect(screen.getByLabelText<HTMLInputElement>("Link to send").value).toBe("http://marsh.example/room/r1");
    expect(screen.getByText(/Only this machine can open that link/)).toBeTruthy();
    fireEvent.click(screen.getByRole("button", { name: "Show it as a code for phones" }));
    expect(screen.getByAltText("QR code of the link").getAttribute("src")).toBe(`${location.origin}/api/rooms/r1/code`);
    expect(screen.getByRole("link", { name: "Sit down" }).getAttribute("href")).toBe("/room/r1");
  });

  it("keeps what was typed when it is refused", async () => {
    shelfWith({ "POST /api/rooms": [422, { code: "bad-passcode", detail: "A passcode has at most 72 bytes." }] });
    open("/", <ShelfPage />);
    await answerWith("Open a room");
    fireEvent.change(await screen.findByLabelText("Name"), { target: { value: "Friday" } });
    await answerWith("Open it");
    expect((await screen.findByRole("alert")).textContent).toBe("A passcode has at most 72 bytes.");
    expect(screen.getByLabelText<HTMLInputElement>("Name").value).toBe("Friday");
  });

  it("begins from a bookmark with that table's seats", async () => {
    const asked = shelfWith({ "POST /api/rooms": [201, { ...room, name: "Before the flood" }] });
    open("/", <ShelfPage />);
    await answerWith("Open a room from it");
    expect((await screen.findByLabelText<HTMLSelectElement>("Seats")).disabled).toBe(true);
    await answerWith("Open it");
    expect(await screen.findByText("Before the flood is open")).toBeTruthy();
    expect(asked.find((a) => a.method === "POST")?.body).toEqual({
      bookmark: "b1",
      name: "Before the flood",
      passcode: "",
      spectators: true,
    });
  });
});

describe("a room on the shelf", () => {
  it("says who is there and what is played", async () => {
    shelfWith({ "GET /api/rooms": [200, { rooms: [{ ...room, passcode: true, people: 1 }] }] });
    open("/", <ShelfPage />);
    const card = within(await screen.findByRole("article", { name: "Room Thursday" }));
    expect(card.getByText("1 person there")).toBeTruthy();
    expect(card.getByText("Marsh Post, edition 1 · 5 seats · passcode · last act just now")).toBeTruthy();
  });

  it("that has ended is looked at, and offers no more than to keep or remove it", async () => {
    shelfWith({ "GET /api/rooms": [200, { rooms: [{ ...room, ended: true, people: 0 }] }] });
    open("/", <ShelfPage />);
    const card = within(await screen.findByRole("article", { name: "Room Thursday" }));
    expect(card.getByRole("link", { name: "Look at it" })).toBeTruthy();
    expect(card.getByText("nobody there")).toBeTruthy();
    expect(card.queryByRole("button", { name: /^Take edition/ })).toBeNull();
    expect((await moreOf("Thursday")).map((b) => b.textContent)).toEqual(["Bookmark …", "Remove …"]);
  });

  it("is ended, bookmarked under a name and removed, each asked first", async () => {
    const asked = shelfWith({
      "POST /api/rooms/r1/end": [200, {}],
      "POST /api/rooms/r1/bookmarks": [201, bookmark],
      "DELETE /api/rooms/r1": [204, null],
    });
    open("/", <ShelfPage />);
    await more("Thursday", "Bookmark …");
    expect(await screen.findByText(/Everybody in the room is told/)).toBeTruthy();
    fireEvent.change(screen.getByRole("textbox"), { target: { value: "  Before dusk " } });
    await answerWith("Keep it");
    await vi.waitFor(() => expect(asked.at(-1)).toBeTruthy());
    await vi.waitFor(() => expect(asked.find((a) => a.path === "/api/rooms/r1/bookmarks")?.body).toEqual({ name: "Before dusk" }));
    await more("Thursday", "End the game …");
    expect(await screen.findByText(/This cannot be taken back/)).toBeTruthy();
    await answerWith("End it");
    await vi.waitFor(() => expect(asked.some((a) => a.path === "/api/rooms/r1/end")).toBe(true));
    await more("Thursday", "Remove …");
    await screen.findByRole("heading", { name: "Remove the room Thursday?" });
    await answerWith("Remove it");
    await vi.waitFor(() => expect(asked.some((a) => a.method === "DELETE" && a.path === "/api/rooms/r1")).toBe(true));
  });

  it("has its seats freed, its host named, its passcode changed and pages of others allowed, without a seat there", async () => {
    const door = {
      ...{ id: "r1", name: "Thursday", passcode: true, host: 1, origins: ["https://game.example"] },
      seats: [
        { number: 1, name: "Ada", colour: "#a00" },
        { number: 2, name: "Bo", colour: "#0a0" },
        { number: 3, colour: "#00a" },
      ],
    };
    const asked = shelfWith({
      "GET /api/rooms/r1": [200, door],
      "POST /api/rooms/r1/seats/2/free": [204, null],
      "POST /api/rooms/r1/seats/2/host": [409, { detail: "The game has ended." }],
      "PUT /api/rooms/r1/passcode": [204, null],
      "PUT /api/rooms/r1/origins": [204, null],
    });
    open("/", <ShelfPage />);
    await more("Thursday", "Seats and door …");
    const dialog = within(await screen.findByRole("dialog", { name: "Seats and door of Thursday" }));
    expect((await dialog.findAllByRole("listitem")).map((l) => l.querySelector(".door-name")?.textContent)).toEqual([
      "Ada, host",
      "Bo",
      "Seat 3 is free",
    ]);
    expect(dialog.queryByRole("button", { name: "Make Ada the host" })).toBeNull();
    fireEvent.click(dialog.getByRole("button", { name: "Free the seat of Bo" }));
    expect((await dialog.findByRole("status")).textContent).toBe("Bo's seat is free. Whoever takes it finds its cards.");
    fireEvent.click(dialog.getByRole("button", { name: "Make Bo the host" }));
    expect((await dialog.findByRole("alert")).textContent).toBe("The game has ended.");
    fireEvent.change(dialog.getByLabelText(/Another one:$/), { target: { value: "heron" } });
    fireEvent.click(dialog.getByRole("button", { name: "Ask for it" }));
    await vi.waitFor(() => expect(asked.find((a) => a.path === "/api/rooms/r1/passcode")?.body).toEqual({ passcode: "heron" }));
    fireEvent.click(dialog.getByRole("button", { name: "Ask for none" }));
    await dialog.findByText("Nobody is asked for a passcode any more.");
    const pages = dialog.getByLabelText(/^Pages of others/);
    expect((pages as HTMLInputElement).value).toBe("https://game.example");
    const origins = () => asked.findLast((a) => a.path === "/api/rooms/r1/origins")?.body;
    fireEvent.change(pages, { target: { value: "https://Game.example/play?a=1, other.example *" } });
    fireEvent.click(dialog.getByRole("button", { name: "Allow" }));
    await vi.waitFor(() => expect(origins()).toEqual({ origins: ["https://game.example", "https://other.example", "*"] }));
    fireEvent.change(pages, { target: { value: "" } });
    fireEvent.click(dialog.getByRole("button", { name: "Allow" }));
    await vi.waitFor(() => expect(origins()).toEqual({ origins: [] }));
    await dialog.findByText("No page of others may show it.");
  });

  it("takes the newest edition in once it was seen what happens", async () => {
    const asked = shelfWith({ "POST /api/rooms/r1/edition": [200, {}] });
    open("/", <ShelfPage />);
    await answerWith("Take edition 2 in");
    const dialog = within(await screen.findByRole("dialog"));
    expect(await dialog.findByText(/It has edition 1 now\. 1 card changed, 1 card new, 1 card gone/)).toBeTruthy();
    expect(dialog.getByText(/3 people there will see it at once/)).toBeTruthy();
    expect(dialog.getByText(/Cards that are gone leave where everybody sees them/)).toBeTruthy();
    fireEvent.change(dialog.getByLabelText(/New cards go to/), { target: { value: "shuffled" } });
    fireEvent.click(dialog.getByRole("button", { name: "Take it in" }));
    await vi.waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
    expect(asked.find((a) => a.path === "/api/rooms/r1/edition")?.body).toEqual({ edition: 2, new_cards: "shuffled" });
  });

  it("stays as it was where an edition is refused, and says why", async () => {
    shelfWith({ "POST /api/rooms/r1/edition": [409, { code: "nothing-to-take", detail: "The room has that edition already." }] });
    open("/", <ShelfPage />);
    await answerWith("Take edition 2 in");
    const take = await button("Take it in");
    await vi.waitFor(() => expect(take.disabled).toBe(false));
    fireEvent.click(take);
    expect((await screen.findByRole("alert")).textContent).toBe("The room has that edition already.");
    await vi.waitFor(() => expect(take.disabled).toBe(false));
  });

  it("gets a single deck of a kit", async () => {
    const asked = shelfWith({
      "GET /api/kits": [200, { kits: [kit, { ...kit, id: "k2", name: "Harbour" }] }],
      "GET /api/kits/k2": [200, { ...page, id: "k2", decks: [{ key: "boats", designs: 3, cards: 12 }] }],
      "POST /api/rooms/r1/decks": [200, {}],
    });
    open("/", <ShelfPage />);
    await more("Thursday", "Bring a deck …");
    const deck = await screen.findByLabelText<HTMLSelectElement>("The deck");
    await vi.waitFor(() => expect([...deck.options].map((o) => o.text)).toEqual(["boats, 12 cards"]));
    fireEvent.change(screen.getByLabelText("Of the kit"), { target: { value: "k1" } });
    await vi.waitFor(() => expect([...deck.options].map((o) => o.text)).toEqual(["weather, 40 cards"]));
    await answerWith("Bring it");
    await vi.waitFor(() => expect(asked.find((a) => a.path === "/api/rooms/r1/decks")?.body).toEqual({ kit: "k1", deck: "weather" }));
  });
});

describe("what was kept and removed", () => {
  it("bookmarks are renamed and removed", async () => {
    const asked = shelfWith({ "PATCH /api/bookmarks/b1": [200, bookmark], "DELETE /api/bookmarks/b1": [204, null] });
    open("/", <ShelfPage />);
    await more("Before the flood", "Rename …");
    const line = await screen.findByRole<HTMLInputElement>("textbox");
    expect(line.value).toBe("Before the flood");
    fireEvent.change(line, { target: { value: " " } });
    expect((await button("Rename it")).disabled).toBe(true);
    fireEvent.change(line, { target: { value: "Dusk" } });
    await answerWith("Rename it");
    await vi.waitFor(() => expect(asked.find((a) => a.method === "PATCH")?.body).toEqual({ name: "Dusk" }));
    await more("Before the flood", "Remove …");
    expect(await screen.findByText(/It cannot be brought back/)).toBeTruthy();
    await answerWith("Remove it");
    await vi.waitFor(() => expect(asked.some((a) => a.method === "DELETE")).toBe(true));
  });

  it("kits and rooms come back, the latest first", async () => {
    const asked = shelfWith({
      "GET /api/kits": ({ query }) => [200, { kits: query.get("removed") === "true" ? [{ ...kit, removed_at: 1000 }] : [] }],
      "GET /api/rooms": ({ query }) => [200, { rooms: query.get("removed") === "true" ? [{ ...room, removed_at: 2000 }] : [] }],
      "POST /api/rooms/r1/restore": [200, room],
    });
    open("/", <ShelfPage />);
    fireEvent.click(await screen.findByText("Removed in the last 30 days (2)"));
    const lines = screen.getAllByRole("listitem").filter((l) => l.textContent?.includes("Bring it back"));
    expect(lines.map((l) => l.textContent?.split(",")[0])).toEqual(["Room Thursday", "Kit Marsh Post"]);
    fireEvent.click(within(lines[0] as HTMLElement).getByRole("button"));
    await vi.waitFor(() => expect(asked.some((a) => a.path === "/api/rooms/r1/restore")).toBe(true));
  });

  it("a file that is brought is a bookmark for the service, or a kit for the bench", async () => {
    const asked = shelfWith({ "POST /api/bookmarks": [201, bookmark] });
    open("/", <ShelfPage />);
    const input = await screen.findByLabelText("A kit or a bookmark as one file");
    fireEvent.change(input, { target: { files: [file(zipSync({ "bookmark.json": new Uint8Array([123, 125]) }))] } });
    await vi.waitFor(() => expect(asked.some((a) => a.method === "POST" && a.path === "/api/bookmarks")).toBe(true));
    fireEvent.change(input, { target: { files: [file(zipSync({ "kit.yaml": new Uint8Array([1]) }))] } });
    expect(await screen.findByText("at /bench")).toBeTruthy();
  });

  it("says so where a file is none of both", async () => {
    shelfWith();
    open("/", <ShelfPage />);
    fireEvent.change(await screen.findByLabelText("A kit or a bookmark as one file"), {
      target: { files: [file(new Uint8Array([1, 2, 3]))] },
    });
    expect((await screen.findByRole("alert")).textContent).toContain("zip");
  });
});

describe("a kit's page", () => {
  it("shows what its maker wrote, its rooms and its editions", async () => {
    shelfWith();
    open("/kit/k1", null);
    expect((await screen.findByText("Wet")).tagName).toBe("STRONG");
    expect(screen.getByRole("heading", { name: "How it is played" })).toBeTruthy();
    expect(await screen.findByRole("article", { name: "Room Thursday" })).toBeTruthy();
    const editions = screen.getAllByRole("listitem").filter((l) => l.getAttribute("aria-label")?.startsWith("Edition"));
    expect(editions.map((e) => e.getAttribute("aria-label"))).toEqual(["Edition 2", "Edition 1"]);
    expect(within(editions[0] as HTMLElement).getByText(/redder hearts/)).toBeTruthy();
    expect(within(editions[1] as HTMLElement).queryByText("What changed")).toBeNull();
    expect(screen.getByText("weather: 20 designs, 40 cards")).toBeTruthy();
  });

  it("shows what changed, and hides it again", async () => {
    shelfWith();
    open("/kit/k1", null);
    await answerWith("What changed");
    expect(await screen.findByText("1 card changed, 1 card new, 1 card gone, 1 zone or piece laid otherwise.")).toBeTruthy();
    await answerWith("Hide what changed");
    expect(screen.queryByLabelText("Deck weather")).toBeNull();
  });

  it("opens a room with an edition of before", async () => {
    const asked = shelfWith({ "POST /api/rooms": [201, room] });
    open("/kit/k1", null);
    await answerWith("Open a room with it");
    await answerWith("Open it");
    await vi.waitFor(() => expect(asked.find((a) => a.method === "POST")?.body).toMatchObject({ kit: "k1", edition: 1 }));
  });

  it("says who finds it, and gives the link once others may", async () => {
    const asked = shelfWith({ "GET /api/kits/k1": [200, { ...page, reach: "link" }], "PATCH /api/kits/k1": [200, page] });
    open("/kit/k1", null);
    expect((await screen.findByLabelText<HTMLInputElement>("Link to the kit")).value).toBe("http://marsh.example/kit/k1");
    fireEvent.change(screen.getByLabelText("Who finds it"), { target: { value: "listed" } });
    await vi.waitFor(() => expect(asked.find((a) => a.method === "PATCH")?.body).toEqual({ reach: "listed" }));
  });

  it("runs nothing that a description brings", async () => {
    shelfWith({ "GET /api/kits/k1": [200, { ...page, description: '<img src=x onerror="alert(1)"> [go](javascript:alert(1))' }] });
    open("/kit/k1", null);
    const link = await screen.findByText("go");
    expect(link.getAttribute("href") ?? "").not.toContain("javascript:");
    expect(document.querySelector("img[onerror]")).toBeNull();
  });

  it("that one may not see is as one that is not there", async () => {
    shelfWith({ "GET /api/kits/k1": [404, { code: "no-such-kit", detail: 'There is no kit "k1" here.' }] });
    open("/kit/k1", null);
    expect((await screen.findByRole("alert")).textContent).toBe('There is no kit "k1" here.');
    expect(screen.getByRole("link", { name: "To the shelf" })).toBeTruthy();
  });
});

describe("a comparison", () => {
  it("in short says what lies on the table otherwise", () => {
    expect(inShort({})).toBe("Nothing that lies on the table differs.");
    expect(inShort({ pieces: [{ key: "a", change: "added" }], zones: [{ key: "b", change: "removed" }] })).toBe(
      "2 zones and pieces laid otherwise.",
    );
  });

  it("shows old beside new, with the words that changed and how many there are", () => {
    renderAsking(<ComparisonShown of={comparison} />);
    const deck = within(screen.getByRole("region", { name: "Deck weather" }));
    expect(deck.getAllByAltText("gale").length).toBe(2);
    expect(deck.getByText(/gale, 1 → 3 copies/)).toBeTruthy();
    expect([document.querySelector("del")?.textContent, document.querySelector("ins")?.textContent]).toEqual(["Gale", "Great gale"]);
    expect(deck.getByText("hail × 2")).toBeTruthy();
    expect(deck.getByText("drizzle")).toBeTruthy();
    expect(screen.getByText("zone weather: changed")).toBeTruthy();
    expect(screen.getByText("Of the table: mat.")).toBeTruthy();
  });
});

describe("words of the shelf", () => {
  it("counts as people do, and says how long ago", () => {
    expect([plural(1, "card"), plural(2, "card"), plural(0, "person", "people")]).toEqual(["1 card", "2 cards", "0 people"]);
    const now = 1_000_000_000_000;
    expect([0, 44, 60, 3600 * 3, 86_400 * 3, 86_400 * 70].map((s) => ago(now - s * 1000, now))).toEqual([
      "just now",
      "just now",
      "1 minute ago",
      "3 hours ago",
      "3 days ago",
      "2 months ago",
    ]);
    expect(ago(now + 5000, now)).toBe("just now"); // clocks differ
  });
});

describe("printing", () => {
  it("asks what, on which paper and how, and saves the PDF", async () => {
    const asked = shelfWith({ "GET /api/kits/k1/print": [200, {}] });
    URL.createObjectURL = vi.fn(() => "blob:pdf");
    open("/kit/k1", <ShelfPage />);
    fireEvent.click(await screen.findByRole("button", { name: "Print" }));
    const dialog = within(await screen.findByRole("dialog"));
    fireEvent.change(dialog.getByLabelText("Cards"), { target: { value: "weather" } });
    fireEvent.change(dialog.getByLabelText("Which of them"), { target: { value: "1" } });
    fireEvent.change(dialog.getByLabelText("Backs"), { target: { value: "long" } });
    fireEvent.click(dialog.getByRole("button", { name: "Make the PDF" }));
    await vi.waitFor(() => expect(URL.createObjectURL).toHaveBeenCalled());
    const print = asked.find((a) => a.path.includes("/print"));
    expect(Object.fromEntries(print?.query ?? [])).toEqual({
      deck: "weather",
      "changed-since": "1",
      backs: "long",
      paper: "a4",
      marks: "true",
      bleed: "0",
    });
  });
});
