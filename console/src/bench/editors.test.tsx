import { cleanup, fireEvent, render, screen } from "@testing-library/react";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Found, Packed, Packing, Report, RowsRead } from "./types";

/** What the core in its worker answers; the worker itself runs in browsers only. */
const answers = vi.hoisted(() => ({
  found: { mistakes: [], warnings: [], decks: null } as unknown,
  report: null as unknown,
  rows: null as unknown,
  packed: [] as unknown[],
  written: [] as unknown[],
}));
vi.mock("comlink", () => ({
  wrap: () => ({
    put: async () => undefined,
    drop: async () => undefined,
    check: async () => answers.found,
    lookOver: async () => answers.report,
    pack: async (files: string[], packing: Packing) => {
      answers.written.push({ files, packing });
      return answers.packed;
    },
    noted: async (lists: unknown[], _packing: Packing, key: string) =>
      lists.map(() => ({ key, file: `${key}.png`, list_file: `${key}.sheet.yaml`, list: "columns: 2\n" })),
    rows: async () => answers.rows,
    draw: async () => {
      throw new Error("nothing is drawn here");
    },
    writeRows: async (file: string, header: string[], cells: string[][]) => {
      answers.written.push({ file, header, cells });
      return new TextEncoder().encode([header, ...cells].map((r) => r.join(",")).join("\n"));
    },
  }),
}));
vi.stubGlobal("Worker", vi.fn());

const { openDraft, putFiles, useDraft } = await import("./draft");
const { DeckEditor } = await import("./DeckEditor");
const { LayoutEditor } = await import("./LayoutEditor");
const { PackPanel } = await import("./PackPanel");
const { SheetEditor } = await import("./SheetEditor");
const { NumberField, TextField } = await import("./fields");
const { Problems } = await import("./Problems");
const { RowsTable } = await import("./RowsTable");

const kit = `kit: 1
name: Marsh Post
seats: 2
sheets:
  weather: {file: weather.png, columns: 2, rows: 2}
decks:
  weather:
    sheet: weather
    home: pile
    back: {cell: 4}
  letters: {rows: letters.csv, layout: letter, home: pile, back: {file: back.png}}
layouts:
  letter:
    size: [500, 700]
    front:
      - {at: [0, 0, 500, 700], fill: "#ffffff"}
      - {at: [30, 30, 440, 70], text: "{title}"}
table:
  zones:
    - {key: pile, kind: pile, at: [100, 100]}
    - {key: grid, kind: grid, at: [100, 100]}
`;
const manifest = () => useDraft.getState().manifest;

beforeEach(async () => {
  answers.found = { mistakes: [], warnings: [], decks: [] } satisfies Found;
  answers.written = [];
  await openDraft();
  await putFiles({
    "kit.yaml": new TextEncoder().encode(kit),
    "weather.png": new Uint8Array([1]),
    "back.png": new Uint8Array([1]),
    "letters.csv": new TextEncoder().encode("title\nHeron\n"),
  });
});
afterEach(cleanup);

describe("a number on the bench", () => {
  it("is given while it is typed, within its bounds and not beyond them", () => {
    const given = vi.fn();
    render(<NumberField label="Columns" value={4} least={1} most={100} onChange={given} />);
    const input = screen.getByLabelText("Columns");
    for (const typed of ["7", "", "0", "101", "x", "30"]) fireEvent.change(input, { target: { value: typed } });
    expect(given.mock.calls).toEqual([[7], [30]]);
  });

  it("may be none, where it says what that means", () => {
    const given = vi.fn();
    render(<NumberField label="Line" value={3} least={0} most={100} zero="none" onChange={given} />);
    fireEvent.change(screen.getByLabelText("Line"), { target: { value: "" } });
    expect(given).toHaveBeenCalledWith(undefined);
    cleanup();
    render(<TextField label="Cells" value="1-4" onChange={given} />);
    fireEvent.change(screen.getByLabelText("Cells"), { target: { value: "" } });
    expect(given).toHaveBeenLastCalledWith(undefined);
  });
});

describe("a deck on the bench", () => {
  it("has one kind of back, and no half of another choice is left over", () => {
    render(<DeckEditor name="weather" onLayout={vi.fn()} />);
    const backs = screen.getByLabelText("The backs are");
    fireEvent.change(backs, { target: { value: "file" } });
    expect(manifest().decks?.weather?.back).toEqual({ file: "weather.png" });
    fireEvent.change(screen.getByLabelText("Picture"), { target: { value: "back.png" } });
    expect(manifest().decks?.weather?.back).toEqual({ file: "back.png" });
    fireEvent.change(backs, { target: { value: "each" } });
    expect(manifest().decks?.weather?.back).toEqual({ each: "weather" });
    fireEvent.change(backs, { target: { value: "cell" } });
    fireEvent.change(screen.getByLabelText("Cell"), { target: { value: "3" } });
    expect(manifest().decks?.weather?.back).toEqual({ cell: 3 });
    fireEvent.change(backs, { target: { value: "" } });
    expect(manifest().decks?.weather?.back).toBeUndefined();
  });

  it("lives in a zone that every seat shares and that holds cards", () => {
    render(<DeckEditor name="weather" onLayout={vi.fn()} />);
    const home = screen.getByLabelText<HTMLSelectElement>("Home");
    expect([...home.options].map((o) => o.value)).toEqual(["", "pile"]);
  });

  it("is spelt out as the core has it", async () => {
    answers.found = {
      mistakes: [],
      warnings: [],
      decks: [
        {
          key: "weather",
          copies: [
            { design: "calm", copies: 1 },
            { design: "fog", copies: 3 },
          ],
          spelt_out: [
            { cell: 1, key: "calm", name: "Calm" },
            { cell: 2, key: "fog", name: "Fog", copies: 3 },
          ],
        },
      ],
    } satisfies Found;
    useDraft.setState({ found: answers.found as Found });
    render(<DeckEditor name="weather" onLayout={vi.fn()} />);
    fireEvent.click(screen.getByRole("button", { name: "Spell the designs out" }));
    await vi.waitFor(() =>
      expect(manifest().decks?.weather?.designs).toEqual([
        { cell: 1, key: "calm", name: "Calm" },
        { cell: 2, key: "fog", name: "Fog", copies: 3 },
      ]),
    );
    expect(await screen.findByText("2 designs, 4 cards")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("copies of design 2"), { target: { value: "1" } });
    fireEvent.change(screen.getByLabelText("name of design 1"), { target: { value: "Dead calm" } });
    expect(manifest().decks?.weather?.designs).toEqual([
      { cell: 1, key: "calm", name: "Dead calm" },
      { cell: 2, key: "fog", name: "Fog" },
    ]);
    fireEvent.click(screen.getByRole("button", { name: "remove design 1" }));
    expect(manifest().decks?.weather?.designs).toHaveLength(1);
  });
});

describe("the rows of a table file", () => {
  const read: RowsRead = {
    header: ["title", "copies"],
    cells: [
      ["Heron", "2"],
      ["Otter", ""],
    ],
    numbers: [2, 3],
    notes: [],
    tabs: [],
    copies: 1,
    mistakes: [{ row: 3, column: "copies", text: "odd" }],
  };
  it("are corrected in place, and written as they were read", async () => {
    answers.rows = read;
    render(<RowsTable deck="letters" file="letters.csv" />);
    expect(await screen.findByText("2 rows, 3 cards")).toBeTruthy();
    expect(screen.getByText("row 3, copies: odd")).toBeTruthy();
    fireEvent.change(screen.getByLabelText("title of row 3"), { target: { value: "Bittern" } });
    await vi.waitFor(() =>
      expect(answers.written).toEqual([
        {
          file: "letters.csv",
          header: ["title", "copies"],
          cells: [
            ["Heron", "2"],
            ["Bittern", ""],
          ],
        },
      ]),
    );
    await vi.waitFor(() => expect(new TextDecoder().decode(useDraft.getState().files["letters.csv"])).toContain("Bittern"));
    fireEvent.click(screen.getByRole("button", { name: "Add a row" }));
    expect(screen.getByText("3 rows, 4 cards")).toBeTruthy();
  });

  it("have columns that are renamed in place, in the layout too", async () => {
    answers.rows = read;
    render(<RowsTable deck="letters" file="letters.csv" layout="letter" />);
    const title = await screen.findByLabelText("the column title");
    fireEvent.change(title, { target: { value: "COPIES" } });
    fireEvent.blur(title);
    expect((title as HTMLInputElement).value).toBe("title"); // another column has that name
    fireEvent.change(title, { target: { value: "bird" } });
    fireEvent.blur(title);
    await vi.waitFor(() => expect((answers.written.at(-1) as { header?: string[] })?.header).toEqual(["bird", "copies"]));
    await vi.waitFor(() => expect(JSON.stringify(manifest().layouts?.letter)).toContain("{bird}"));
    expect(JSON.stringify(manifest().layouts?.letter)).not.toContain("{title}");
  });

  it("say what is wrong with the file", async () => {
    answers.rows = Promise.reject(new Error("line 2: a quote is not closed"));
    render(<RowsTable deck="letters" file="letters.csv" />);
    expect((await screen.findByRole("alert")).textContent).toBe("letters.csv: line 2: a quote is not closed");
  });
});

describe("a layout on the bench", () => {
  const front = () => manifest().layouts?.letter?.front ?? [];
  it("has boxes that are added, ordered and removed", () => {
    render(<LayoutEditor name="letter" />);
    fireEvent.click(screen.getByRole("button", { name: "Text" }));
    expect(front()).toHaveLength(3);
    expect(front()[2]).toMatchObject({ text: "{title}" });
    expect(screen.getByRole("button", { name: "“{title}”", pressed: true })).toBeTruthy(); // the new one is worked on
    fireEvent.click(screen.getByRole("button", { name: "Further down" }));
    expect(front()[1]).toMatchObject({ at: [40, 40, 300, 80] });
    fireEvent.click(screen.getByRole("button", { name: "Remove" }));
    expect(front().map((b) => b.at)).toEqual([
      [0, 0, 500, 700],
      [30, 30, 440, 70],
    ]);
  });

  it("writes no more into kit.yaml than what is given", () => {
    render(<LayoutEditor name="letter" />);
    fireEvent.change(screen.getByLabelText("Left"), { target: { value: "12" } });
    fireEvent.change(screen.getByLabelText("Filled with"), { target: { value: "" } });
    expect(front()[0]).toEqual({ at: [12, 0, 500, 700] });
  });
});

describe("what looks wrong", () => {
  const problems = [
    { text: "decks.weather.back: there is no cell 9", mistake: true, file: "kit.yaml", path: "decks.weather.back" },
    { text: "weather.png: cell 2 is empty", mistake: false, file: "weather.png" },
    { text: "letters.csv, row 3: odd", mistake: false, file: "letters.csv" },
    { text: "the kit has no about", mistake: false, file: "kit.yaml", path: "about" },
  ];
  it("leads to where it is mended", () => {
    const open = vi.fn();
    render(<Problems problems={problems} onOpen={open} />);
    expect(screen.getAllByRole("listitem").map((i) => i.className)).toEqual(["mistake", "warning", "warning", "warning"]);
    for (const button of screen.getAllByRole("button", { name: "go there" })) fireEvent.click(button);
    expect(open.mock.calls).toEqual([
      ["deck", "weather"],
      ["sheet", "weather"],
      ["deck", "letters"],
    ]);
  });

  it("is there shown alone where one works on it", () => {
    render(<Problems problems={problems} here={{ what: "deck", name: "letters" }} onOpen={vi.fn()} />);
    expect(screen.getAllByRole("listitem").map((i) => i.textContent)).toEqual(["Warning letters.csv, row 3: odd"]);
    expect(screen.queryByRole("button")).toBeNull();
  });
});

describe("a sheet on the bench", () => {
  const report: Report = {
    width: 200,
    height: 100,
    grid: { columns: 2, rows: 2 },
    sure: true,
    guesses: [
      { columns: 2, rows: 2, confidence: 0.93 },
      { columns: 4, rows: 2, margin: 3, confidence: 0.41 },
    ],
    cells: [1, 2, 3, 4].map((cell) => ({ cell, column: 0, row: 0, empty: cell === 4, warnings: cell === 2 ? ["runs into the next"] : [] })),
    warnings: [],
  };
  const loaded = () => {
    const picture = screen.getByAltText("The sheet");
    Object.defineProperties(picture, { naturalWidth: { value: 200 }, naturalHeight: { value: 100 } });
    fireEvent.load(picture);
  };
  beforeEach(() => {
    answers.report = report;
  });

  it("says how many cards come off it, and which cells look wrong", async () => {
    render(<SheetEditor name="weather" onDeck={vi.fn()} />);
    loaded();
    expect(await screen.findByText("3 cards, 1 empty cell. 1 warning:")).toBeTruthy();
    expect(screen.getByText("cell 2: runs into the next")).toBeTruthy();
    expect(document.querySelectorAll(".card-strip li")).toHaveLength(4);
    expect(document.querySelector(".pin")?.textContent).toBe("! 2");
  });

  it("takes the numbers that the picture looks like, and those that are typed", async () => {
    render(<SheetEditor name="weather" onDeck={vi.fn()} />);
    fireEvent.click(await screen.findByRole("button", { name: /4 × 2, margin 3/ }));
    expect(manifest().sheets?.weather).toEqual({ file: "weather.png", columns: 4, rows: 2, margin: 3 });
    fireEvent.change(screen.getByLabelText("Rows"), { target: { value: "3" } });
    expect(manifest().sheets?.weather).toMatchObject({ columns: 4, rows: 3 });
    fireEvent.change(screen.getByLabelText("Margin"), { target: { value: "0" } });
    expect(manifest().sheets?.weather).toEqual({ file: "weather.png", columns: 4, rows: 3 });
  });

  it("takes margins of four sides, and cuts that are moved by keys and dragged", async () => {
    render(<SheetEditor name="weather" onDeck={vi.fn()} />);
    loaded();
    fireEvent.change(screen.getByLabelText("Margin"), { target: { value: "4, 2, 6, 0" } });
    expect(manifest().sheets?.weather?.margin).toEqual([4, 2, 6, 0]);
    fireEvent.blur(screen.getByLabelText("Margin"));
    fireEvent.change(screen.getByLabelText("Gutter"), { target: { value: "8, x" } });
    expect(manifest().sheets?.weather?.gutter).toBeUndefined();
    fireEvent.keyDown(await screen.findByRole("slider", { name: "Top margin" }), { key: "ArrowDown" });
    fireEvent.keyDown(screen.getByRole("slider", { name: "Gutter across" }), { key: "ArrowRight", shiftKey: true });
    expect(manifest().sheets?.weather).toMatchObject({ margin: [4, 3, 6, 0], gutter: [10, 0] });
    const handles = document.querySelector(".cut-handles") as HTMLElement;
    handles.getBoundingClientRect = () => ({ left: 50, top: 50, width: 400, height: 200 }) as DOMRect; // twice as large as the picture
    const left = screen.getByRole("slider", { name: "Left margin" });
    left.setPointerCapture = vi.fn();
    const pointer = (what: string, clientX: number) => fireEvent(left, new MouseEvent(what, { bubbles: true, clientX, clientY: 100 }));
    pointer("pointerdown", 58);
    pointer("pointermove", 90);
    expect(screen.getByLabelText<HTMLInputElement>("Margin").value).toBe("20, 3, 6, 0");
    expect(manifest().sheets?.weather?.margin).toEqual([4, 3, 6, 0]); // until it is let go
    pointer("pointerup", 90);
    expect(manifest().sheets?.weather?.margin).toEqual([20, 3, 6, 0]);
  });

  it("refuses numbers that leave no room, and makes no deck of them", async () => {
    render(<SheetEditor name="weather" onDeck={vi.fn()} />);
    loaded();
    fireEvent.change(screen.getByLabelText("Columns"), { target: { value: "60" } });
    expect((await screen.findByRole("alert")).textContent).toBe("These numbers leave no room for cells on this picture.");
    expect(screen.getByRole<HTMLButtonElement>("button", { name: "Make a deck of it" }).disabled).toBe(true);
  });

  it("becomes a deck with a name of its own", () => {
    const onDeck = vi.fn();
    render(<SheetEditor name="weather" onDeck={onDeck} />);
    fireEvent.click(screen.getByRole("button", { name: "Make a deck of it" }));
    expect(onDeck).toHaveBeenCalledWith("weather-2");
    expect(manifest().decks?.["weather-2"]).toEqual({ sheet: "weather" });
  });
});

describe("packing loose pictures", () => {
  const packed: Packed = {
    list: {
      columns: 2,
      rows: 1,
      count: 2,
      card: [63, 88],
      scale: 1,
      sources: [
        { cell: 1, file: "a.png", sha256: "", size: [10, 10] },
        { cell: 2, file: "b.png", sha256: "", size: [10, 10] },
      ],
    },
    wide: 126,
    high: 88,
    drawn: 0,
    png: new Uint8Array([1, 2]),
  };

  it("shows the sheet that comes of it, and puts it into the kit", async () => {
    answers.packed = [packed];
    const onDone = vi.fn();
    render(
      <PackPanel loose={{ key: "cards", folder: "", files: ["a.png", "b.png"], sheet: "cards.png" }} onDone={onDone} onCancel={vi.fn()} />,
    );
    await vi.waitFor(() => expect(answers.written).toContainEqual({ files: ["a.png", "b.png"], packing: {} }));
    const keep = await screen.findByRole("button", { name: "Put it into the kit" });
    await vi.waitFor(() => expect((keep as HTMLButtonElement).disabled).toBe(false));
    fireEvent.click(keep);
    await vi.waitFor(() => expect(onDone).toHaveBeenCalledWith("cards"));
    expect(manifest().sheets?.cards).toMatchObject({ file: "cards.png" });
    expect(manifest().decks?.cards).toEqual({ sheet: "cards" });
    expect(Object.keys(useDraft.getState().files)).toEqual(expect.arrayContaining(["cards.png", "cards.sheet.yaml"]));
  });

  it("leaves the kit alone when it is called off", async () => {
    answers.packed = [packed];
    const onCancel = vi.fn();
    render(
      <PackPanel
        loose={{ key: "cards", folder: "", files: ["a.png", "b.png"], sheet: "cards.png" }}
        onDone={vi.fn()}
        onCancel={onCancel}
      />,
    );
    fireEvent.click(screen.getByRole("button", { name: "Leave the pictures loose" }));
    expect(onCancel).toHaveBeenCalled();
    expect(manifest().sheets?.cards).toBeUndefined();
  });
});
