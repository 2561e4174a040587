// The core in a worker: the service's own code, compiled for the browser. It is
// fetched when the bench is opened, and never blocks the page.
import { expose, transfer } from "comlink";
import type { Message } from "../api/client";
import type { PicturePut, StepsChecked } from "../room/source";
import type { Comparison } from "../shelf/Comparison";
import type { Begun, Found, Grid, LayoutEntry, List, Noted, Packed, Packing, Report, RowsRead } from "./types";

type Reply<T> = { value: T } | { error: string };

interface RawCore {
  put(file: string, bytes: Uint8Array): Reply<null>;
  asPNG(bytes: Uint8Array): Reply<Uint8Array>;
  upright(file: string, degrees: number): Reply<Uint8Array>;
  drop(file: string): Reply<null>;
  hash(file: string): Reply<string>;
  showPixels(file: string, rgba: Uint8ClampedArray, wide: number, high: number): Reply<null>;
  lookOver(file: string, grid: string): Reply<string>;
  pack(files: string, packing: string): Reply<{ about: string; png: Uint8Array }[]>;
  noted(lists: string, packing: string, name: string, taken: string): Reply<string>;
  begin(files: string, taken: string): Reply<string>;
  check(): Reply<string>;
  rows(file: string): Reply<string>;
  beginLayout(file: string): Reply<string>;
  writeRows(file: string, header: string, cells: string, as: string): Reply<Uint8Array>;
  draw(deck: string, row: number, side: string): Reply<{ about: string; rgba: Uint8Array }>;
  tryTable(seats: number): Reply<string>;
  sitAt(seat: number): Reply<string>;
  act(request: string): Reply<string>;
  tick(): Reply<string>;
  checkSteps(steps: string): Reply<string>;
  bringPicture(bytes: Uint8Array): Reply<string>;
  keepTable(): Reply<Record<string, Uint8Array>>;
  compareWith(files: Record<string, Uint8Array>): Reply<string>;
  showPicture(name: string, longest: number): Reply<{ about: string; rgba: Uint8Array }>;
}

declare const Go: new () => { importObject: WebAssembly.Imports; run(instance: WebAssembly.Instance): Promise<void> };
declare function importScripts(file: string): void;
const scope = globalThis as unknown as {
  name: string;
  damselflyCore?: RawCore;
  damselflySpreadsheets?: RawSpreadsheets;
  damselflyFont?: (name: string) => Uint8Array | null;
};

interface RawSpreadsheets {
  read(file: Uint8Array): Uint8Array;
  write(rows: Uint8Array): Reply<Uint8Array>;
}

/** Where the service stands: the page names the worker by it. */
const service = scope.name;

let started: Promise<RawCore> | undefined;
let spreadsheetsStarted: Promise<RawSpreadsheets> | undefined;

/** Runs a module of Go in this worker; it sets an object by which it is spoken to. */
async function run(module: string): Promise<void> {
  const response = await fetch(`${service}/${module}.wasm.gz`);
  if (!response.ok || !response.body) throw new Error("The bench could not be fetched. Check your connection and reload.");
  const wasm = await new Response(response.body.pipeThrough(new DecompressionStream("gzip"))).arrayBuffer();
  const go = new Go();
  const { instance } = await WebAssembly.instantiate(wasm, go.importObject);
  void go.run(instance);
}

/** A font that ships, for letters that no other has. The core waits for it while it draws. */
function font(name: string): Uint8Array | null {
  const request = new XMLHttpRequest();
  request.open("GET", `${service}/fonts/${name}`, false);
  request.responseType = "arraybuffer";
  request.send();
  return request.status === 200 ? new Uint8Array(request.response as ArrayBuffer) : null;
}

async function start(): Promise<RawCore> {
  scope.damselflyFont = font;
  importScripts(`${service}/wasm_exec.js`);
  await run("core");
  if (!scope.damselflyCore) throw new Error("The bench did not start. Reload the page.");
  return scope.damselflyCore;
}

/** What reads and writes spreadsheets, fetched with the first one. */
function spreadsheets(): Promise<RawSpreadsheets> {
  spreadsheetsStarted ??= core().then(async () => {
    await run("spreadsheets");
    if (!scope.damselflySpreadsheets) throw new Error("Spreadsheets cannot be read now. Reload the page, or save the file as CSV.");
    return scope.damselflySpreadsheets;
  });
  return spreadsheetsStarted;
}

const isSpreadsheet = (file: string) => /\.xlsx(#.*)?$/i.test(file); // or one of its tables

function core(): Promise<RawCore> {
  started ??= start();
  return started;
}

function value<T>(reply: Reply<T>): T {
  if ("error" in reply) throw new Error(reply.error);
  return reply.value;
}

// What the browser decodes, which is faster. Not JPEG and WebP: the core knows by how they are decoded that they were saved with loss.
const exact = /\.(png|gif)$/i;

const bench = {
  /** Puts a file into the kit. */
  async put(file: string, bytes: Uint8Array): Promise<void> {
    const c = await core();
    value(c.put(file, isSpreadsheet(file) ? (await spreadsheets()).read(bytes) : bytes));
    if (!exact.test(file) || bytes.length < 200_000) return; // small ones the core decodes when it needs them
    try {
      const bitmap = await createImageBitmap(new Blob([bytes as BlobPart]), { premultiplyAlpha: "none", colorSpaceConversion: "none" });
      const canvas = new OffscreenCanvas(bitmap.width, bitmap.height);
      const context = canvas.getContext("2d", { willReadFrequently: true });
      if (!context) return;
      context.drawImage(bitmap, 0, 0);
      value(c.showPixels(file, context.getImageData(0, 0, bitmap.width, bitmap.height).data, bitmap.width, bitmap.height));
    } catch {
      // what the browser cannot decode the core refuses with its reason
    }
  },
  /** A picture as PNG, for what browsers do not show. */
  async asPNG(bytes: Uint8Array): Promise<Uint8Array> {
    return value((await core()).asPNG(bytes));
  },
  /** A picture of the kit turned upright, as PNG. */
  async upright(file: string, degrees: number): Promise<Uint8Array> {
    return value((await core()).upright(file, degrees));
  },
  async drop(file: string): Promise<void> {
    value((await core()).drop(file));
  },
  /** The SHA-256 of a file. Browsers compute it themselves only where pages come encrypted. */
  async hash(file: string): Promise<string> {
    return value((await core()).hash(file));
  },
  async lookOver(file: string, grid: Grid): Promise<Report> {
    return JSON.parse(value((await core()).lookOver(file, JSON.stringify(grid)))) as Report;
  },
  async pack(files: string[], packing: Packing): Promise<Packed[]> {
    const sheets = value((await core()).pack(JSON.stringify(files), JSON.stringify(packing)));
    return Array.from(sheets, (s) => ({ ...(JSON.parse(s.about) as Omit<Packed, "png">), png: s.png }));
  },
  /** Where sheets of one packing lie in the kit, and the lists beside them. */
  async noted(lists: List[], packing: Packing, name: string, taken: string[]): Promise<Noted[]> {
    return JSON.parse(value((await core()).noted(JSON.stringify(lists), JSON.stringify(packing), name, JSON.stringify(taken)))) as Noted[];
  },
  /** What a kit begins with, or goes on with, from files that are in it. */
  async begin(files: string[], taken: string[]): Promise<Begun> {
    return JSON.parse(value((await core()).begin(JSON.stringify(files), JSON.stringify(taken)))) as Begun;
  },
  async check(): Promise<Found> {
    return JSON.parse(value((await core()).check())) as Found;
  },
  async beginLayout(file: string): Promise<LayoutEntry | null> {
    return JSON.parse(value((await core()).beginLayout(file))) as LayoutEntry | null;
  },
  async rows(file: string): Promise<RowsRead> {
    return JSON.parse(value((await core()).rows(file))) as RowsRead;
  },
  async writeRows(file: string, header: string[], cells: string[][], as: string): Promise<Uint8Array> {
    const written = value((await core()).writeRows(file, JSON.stringify(header), JSON.stringify(cells), as));
    return isSpreadsheet(as) ? value((await spreadsheets()).write(written)) : written;
  },
  async draw(
    deck: string,
    row: number,
    side: "front" | "back",
  ): Promise<{ rgba: Uint8Array; wide: number; high: number; problems: string[] }> {
    const drawn = value((await core()).draw(deck, row, side));
    const about = JSON.parse(drawn.about) as { wide: number; high: number; problems: string[] };
    return transfer({ ...about, rgba: drawn.rgba }, [drawn.rgba.buffer as ArrayBuffer]);
  },
};

/** The table on which the draft is tried: what a room would be sent and would tell. */
const table = {
  async tryTable(seats: number): Promise<Message[]> {
    return JSON.parse(value((await core()).tryTable(seats))) as Message[];
  },
  async sitAt(seat: number): Promise<Message[]> {
    return JSON.parse(value((await core()).sitAt(seat))) as Message[];
  },
  async act(request: string): Promise<Message[]> {
    return JSON.parse(value((await core()).act(request))) as Message[];
  },
  async tick(): Promise<Message[]> {
    return JSON.parse(value((await core()).tick())) as Message[];
  },
  async checkSteps(steps: string): Promise<StepsChecked> {
    return JSON.parse(value((await core()).checkSteps(steps))) as StepsChecked;
  },
  async bringPicture(bytes: Uint8Array): Promise<PicturePut> {
    return JSON.parse(value((await core()).bringPicture(bytes))) as PicturePut;
  },
  async keepTable(): Promise<Record<string, Uint8Array>> {
    return value((await core()).keepTable());
  },
  /** What differs between an edition, by its files, and the draft. */
  async compareWith(files: Record<string, Uint8Array>): Promise<Comparison> {
    const read: Record<string, Uint8Array> = {};
    for (const [file, bytes] of Object.entries(files)) read[file] = isSpreadsheet(file) ? (await spreadsheets()).read(bytes) : bytes;
    return JSON.parse(value((await core()).compareWith(read))) as Comparison;
  },
  /** A picture of the table as a PNG, which the browser encodes. */
  async showPicture(name: string, longest: number): Promise<Blob> {
    const { about, rgba } = value((await core()).showPicture(name, longest));
    const { wide, high } = JSON.parse(about) as { wide: number; high: number };
    const canvas = new OffscreenCanvas(wide, high);
    const pixels = new ImageData(new Uint8ClampedArray(rgba.buffer as ArrayBuffer, rgba.byteOffset, rgba.length), wide, high);
    canvas.getContext("2d")?.putImageData(pixels, 0, 0);
    return canvas.convertToBlob();
  },
};

export type Bench = typeof bench & typeof table;
expose({ ...bench, ...table });
