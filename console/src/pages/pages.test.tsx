import { cleanup, fireEvent, screen } from "@testing-library/react";
import { MemoryRouter, Route, Routes } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Room } from "../api/client";
import { broughtSeat, forgetSeat, joinId, keepSeat, keptSeat } from "../room/seatKey";
import { serviceThat } from "../testing/service";
import { renderAsking } from "../testing/table";
import { EntrancePage } from "./EntrancePage";
import { Asking } from "../parts/Asking";
import { useMaker } from "../maker/maker";
import { StartPage } from "./StartPage";

const room: Room = {
  id: "r1",
  name: "Marsh Post",
  path: "/room/r1",
  link: "http://127.0.0.1:7171/room/r1",
  kit: "Marsh Post",
  about: "Couriers.",
  edition: 1,
  passcode: false,
  spectators: true,
  locked: false,
  ended: false,
  commitment: "c",
  at: 0,
  seats: [
    { number: 1, name: "Ada", colour: "#111111" },
    { number: 2, colour: "#222222" },
    { number: 3, colour: "#333333" },
  ],
};

const entrance = (onJoined = vi.fn()) => {
  renderAsking(<EntrancePage room="r1" onJoined={onJoined} />);
  return onJoined;
};

beforeEach(() => {
  localStorage.clear();
  sessionStorage.clear();
});
afterEach(() => {
  cleanup();
  vi.unstubAllGlobals();
});

const start = () =>
  renderAsking(
    <MemoryRouter>
      <Routes>
        <Route path="/" element={<StartPage />} />
        <Route path="/room/:room" element={<p>at the room</p>} />
        <Route path="/kit/:kit" element={<p>at the kit</p>} />
      </Routes>
      <Asking />
    </MemoryRouter>,
  );

const kit = {
  id: "k1",
  name: "Marsh Post",
  edition: 2,
  at: 0,
  seats: 5,
  cards: 154,
  maker: "Reed",
  reach: "listed",
  fan: ["aaaa"],
};

describe("the start", () => {
  beforeEach(() => useMaker.setState({ key: "" }));
  it("goes to the room of a link or of its name, and to a kit", async () => {
    serviceThat({ "GET /api/shelf": [200, { kits: [] }] });
    for (const [typed, at] of [
      ["http://127.0.0.1:7171/room/abc", "at the room"],
      ["  abc ", "at the room"],
      ["http://127.0.0.1:7171/kit/k1", "at the kit"],
    ] as const) {
      start();
      const go = screen.getByRole<HTMLButtonElement>("button", { name: "Go there" });
      expect(go.disabled).toBe(true);
      fireEvent.change(screen.getByLabelText("Link or room"), { target: { value: typed } });
      fireEvent.click(go);
      expect(await screen.findByText(at)).toBeTruthy();
      cleanup();
    }
  });

  it("shows where one sits, and kits of others to look at", async () => {
    serviceThat({ "GET /api/shelf": [200, { kits: [kit] }], "GET /api/rooms/r1": [200, room] });
    keepSeat({ key: "K", room: "r1", seat: 2, name: "Bo" });
    start();
    expect(await screen.findByText("as Bo")).toBeTruthy();
    expect(await screen.findByText("5 seats · 154 cards · edition 2 · by Reed")).toBeTruthy();
    expect(screen.queryByRole("button", { name: "Copy to my shelf" })).toBeNull();
  });

  it("lets a maker in by a link, once, and keeps the key out of the address", async () => {
    const asked = serviceThat({
      "GET /api/shelf": [200, { kits: [] }],
      "GET /api/maker": [200, { id: "m", name: "Reed", at: 0 }],
      "GET /api/kits": [200, { kits: [] }],
      "GET /api/rooms": [200, { rooms: [] }],
    });
    history.replaceState(null, "", "/#maker=SECRET");
    start();
    expect(await screen.findByText("Your shelf is empty")).toBeTruthy();
    expect(await screen.findByText("Reed's shelf")).toBeTruthy();
    expect(location.hash).toBe("");
    expect(document.body.innerHTML).not.toContain("SECRET");
    expect(asked.some((a) => a.path.startsWith("/api/kits"))).toBe(true);
    fireEvent.click(screen.getByRole("button", { name: "Reed" }));
    fireEvent.click(await screen.findByText("Go out …"));
    fireEvent.click(await screen.findByRole("button", { name: "Go out" }));
    expect(await screen.findByLabelText("Link or room")).toBeTruthy();
  });
});

describe("the entrance", () => {
  it("shows who sits where, and takes the first free seat", async () => {
    const asked = serviceThat({
      "GET /api/rooms/r1": [200, room],
      "POST /api/rooms/r1/join": [201, { key: "KEY", room: "r1", seat: 2, name: "Bo" }],
    });
    const onJoined = entrance();
    expect(await screen.findByText("Ada sits here")).toBeTruthy();
    const sit = screen.getByRole<HTMLButtonElement>("button", { name: "Sit down" });
    expect(sit.disabled).toBe(true);
    fireEvent.change(screen.getByLabelText("Your name"), { target: { value: "Bo" } });
    fireEvent.click(sit);
    await vi.waitFor(() => expect(onJoined).toHaveBeenCalledWith({ key: "KEY", room: "r1", seat: 2, name: "Bo" }));
    const join = asked.find((a) => a.method === "POST")?.body as { name: string; seat: number; id: string; salt: string };
    expect(join).toMatchObject({ name: "Bo", seat: 2 });
    expect(join.id).toBe(joinId("r1")); // sent again it is the same seat
    expect(join.salt.length).toBeGreaterThan(10);
  });

  it("takes the seat that is chosen, and watches without one", async () => {
    const asked = serviceThat({
      "GET /api/rooms/r1": [200, room],
      "POST /api/rooms/r1/join": [201, { key: "KEY", room: "r1", seat: 3, name: "Cleo" }],
    });
    entrance();
    await screen.findByText("Ada sits here");
    const radios = screen.getAllByRole<HTMLInputElement>("radio");
    expect(radios.map((r) => r.disabled)).toEqual([true, false, false]);
    fireEvent.click(radios[2] as HTMLElement);
    fireEvent.change(screen.getByLabelText("Your name"), { target: { value: "Cleo" } });
    fireEvent.click(screen.getByRole("button", { name: "Sit down" }));
    await vi.waitFor(() => expect(asked.at(-1)?.body).toMatchObject({ name: "Cleo", seat: 3 }));
    fireEvent.click(await screen.findByRole("button", { name: "Watch" }));
    await vi.waitFor(() => expect(asked.at(-1)?.body).toMatchObject({ watch: true }));
  });

  it("asks for a passcode and names nobody before it", async () => {
    serviceThat({
      "GET /api/rooms/r1": [200, { ...room, passcode: true, seats: room.seats.map((s) => (s.name ? { ...s, name: "taken" } : s)) }],
      "POST /api/rooms/r1/join": [403, { code: "wrong-passcode", detail: "That is not this room's passcode. Ask who sent you the link." }],
    });
    const onJoined = entrance();
    expect(await screen.findByText("taken")).toBeTruthy();
    expect(screen.queryByText(/Ada/)).toBeNull();
    fireEvent.change(screen.getByLabelText("Your name"), { target: { value: "Bo" } });
    fireEvent.change(screen.getByLabelText("Passcode"), { target: { value: "stork" } });
    fireEvent.click(screen.getByRole("button", { name: "Sit down" }));
    expect((await screen.findByRole("alert")).textContent).toBe("That is not this room's passcode. Ask who sent you the link.");
    expect(onJoined).not.toHaveBeenCalled();
  });

  it("says what to do where every seat is taken", async () => {
    serviceThat({ "GET /api/rooms/r1": [200, { ...room, seats: [room.seats[0]] }] });
    entrance();
    expect(await screen.findByText("Every seat is taken. You can watch.")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("Your name"), { target: { value: "Bo" } });
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Sit down" }).disabled).toBe(true);
  });

  it("says why there is no way in", async () => {
    serviceThat({
      "GET /api/rooms/r1": [404, { code: "no-such-room", detail: 'There is no room "r1" here. Check the link you were sent.' }],
    });
    entrance();
    expect((await screen.findByRole("alert")).textContent).toBe('There is no room "r1" here. Check the link you were sent.');
  });
});

describe("the key to a seat", () => {
  it("is kept until the room lets it go", () => {
    expect(keptSeat("r1")).toBeNull();
    const first = joinId("r1");
    expect(joinId("r1")).toBe(first);
    keepSeat({ key: "KEY", room: "r1", seat: 2, name: "Bo" });
    expect(keptSeat("r1")?.key).toBe("KEY");
    expect(keptSeat("r2")).toBeNull();
    expect(joinId("r1")).not.toBe(first); // who joins once more takes another seat
    forgetSeat("r1");
    expect(keptSeat("r1")).toBeNull();
    localStorage.setItem("damselfly seat r1", "{broken");
    expect(keptSeat("r1")).toBeNull();
  });

  it("does not stay in the address of the link that brought it", () => {
    history.replaceState(null, "", "/room/r1#seat=ABC123");
    expect(broughtSeat("r1")).toMatchObject({ key: "ABC123", room: "r1" });
    expect(location.hash).toBe("");
    expect(broughtSeat("r1")).toBeNull();
  });
});
