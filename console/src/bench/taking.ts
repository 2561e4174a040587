// What is dropped or chosen, taken into the kit: a whole kit, sheets, loose pictures, tables.
import { gutterOf, marginOf, written } from "./grid";
import { freeKey, stem } from "./keys";
import type { Grid } from "./types";
import { core, edit, isPicture, isTableFile, openDraft, putFiles, unzipped, useDraft } from "./draft";

export interface Taken {
  name: string;
  bytes: Uint8Array;
}

/** The part of the kit that the bench shows. */
export type Open = { what: "kit" } | { what: "sheet" | "deck" | "layout"; name: string } | { what: "pack"; files: string[] };

/** Takes files in and tells what to show of them. */
export async function take(list: Taken[]): Promise<Open | undefined> {
  const zip = list.find((f) => f.name.endsWith(".zip"));
  if (zip) {
    await openDraft(unzipped(zip.bytes), null, null);
    return { what: "kit" };
  }
  const manifestGiven = list.find((f) => f.name.endsWith("kit.yaml"));
  if (manifestGiven || Object.keys(useDraft.getState().files).length === 0) await openDraft();
  const folder = manifestGiven ? manifestGiven.name.slice(0, -"kit.yaml".length) : "";
  const files = Object.fromEntries(
    (await Promise.all(list.map(shown))).map((f) => [f.name.startsWith(folder) ? f.name.slice(folder.length) : f.name, f.bytes]),
  );
  const known = Object.keys(files).filter((name) => name in useDraft.getState().files);
  await putFiles(files);
  if (manifestGiven) return { what: "kit" };
  const pictures = Object.keys(files).filter(isPicture);
  const tables = list.filter((f) => isTableFile(f.name)).map((f) => f.name);
  const { manifest: now } = useDraft.getState();
  if (pictures.length > 1 && known.length === 0) {
    const seen = await Promise.all(pictures.slice(0, lookedAt).map(lookIfWhole));
    if (!areSheets(seen)) return { what: "pack", files: pictures };
    const names: string[] = [];
    for (const [i, file] of pictures.entries()) names.push(addSheet(file, seen[i] ?? (await lookIfWhole(file))));
    return { what: "sheet", name: names[0] as string };
  }
  if (pictures[0]) {
    // Art that the kit has already was brought anew: it is shown where it is used.
    const used = Object.entries(now.sheets ?? {}).find(([, s]) => known.includes(s.file));
    if (used) return { what: "sheet", name: used[0] };
    if (known.length > 0) return undefined;
    return { what: "sheet", name: addSheet(pictures[0], await look(pictures[0])) };
  }
  if (tables[0] && !known.includes(tables[0])) {
    return { what: "deck", name: await addTables(tables[0]) };
  }
  return undefined;
}

/** Begins a layout for a deck of a table file, and says its name; none where a column names each card's picture. */
export async function beginLayout(deck: string, rows: string, again = false): Promise<string | undefined> {
  const layout = await core().beginLayout(rows);
  if (!layout) return undefined;
  const name = freeKey(deck, "layout", useDraft.getState().manifest.layouts);
  edit(["layouts", name], layout, again);
  edit(["decks", deck, "layout"], name, true);
  return name;
}

/** A deck of a table file, or one of each table of a spreadsheet. Says the name of the first. */
async function addTables(file: string): Promise<string> {
  const tabs = /\.xlsx$/i.test(file) ? await core().tabs(file) : [];
  const names: string[] = [];
  for (const tab of tabs.length > 1 ? tabs : [""]) {
    const name = freeKey(tab || stem(file), "cards", useDraft.getState().manifest.decks);
    const rows = tab ? `${file}#${tab}` : file;
    edit(["decks", name], { rows }, true); // what is taken in is one change, with the file
    await beginLayout(name, rows, true).catch(() => undefined); // what is wrong with the file is told with its rows
    names.push(name);
  }
  return names[0] as string;
}

/** A file as browsers show it: a TIFF becomes a PNG. */
async function shown(f: Taken): Promise<Taken> {
  return /\.tiff?$/i.test(f.name) ? { name: f.name.replace(/\.tiff?$/i, ".png"), bytes: await core().asPNG(f.bytes) } : f;
}

/** The grid that a picture looks like, and whether it is surely seen. */
interface Look {
  grid: Grid;
  sure: boolean;
}

async function look(file: string): Promise<Look> {
  const { grid, sure } = await core().lookOver(file, { columns: 0, rows: 0 });
  return { grid, sure };
}

/** How many of several pictures are looked at to tell sheets from single cards. */
const lookedAt = 3;

/** The same of one among several: that it is damaged is told where it is shown, and keeps the others from nothing. */
async function lookIfWhole(file: string): Promise<Look> {
  return look(file).catch(() => ({ grid: { columns: 0, rows: 0 }, sure: false }));
}

/** Whether several pictures are sheets: on half of those that were looked at a grid is surely seen. */
function areSheets(seen: Look[]): boolean {
  return 2 * seen.filter((s) => s.sure).length >= seen.length;
}

/** A sheet, and the deck of its cards: it can be played as it is. A grid that is surely
 *  seen is written down; one that is not stays a guess, and is told as one. */
function addSheet(file: string, { grid, sure }: Look): string {
  const { manifest } = useDraft.getState();
  const name = freeKey(stem(file), "sheet", manifest.sheets);
  edit(["sheets", name], sure ? { file, columns: grid.columns, rows: grid.rows, ...laid(grid) } : { file }, true);
  if (!manifest.name || manifest.name === "My game") edit(["name"], title(name), true);
  makeDeck(name, true);
  return name;
}

function laid(grid: Grid) {
  const margin = written(marginOf(grid.margin));
  const gutter = written(gutterOf(grid.gutter));
  return { ...(margin && { margin }), ...(gutter && { gutter }) };
}

/** Makes a deck of a sheet's cards, and says its name. */
export function makeDeck(sheet: string, again = false): string {
  const name = freeKey(sheet, "cards", useDraft.getState().manifest.decks);
  edit(["decks", name], { sheet }, again);
  return name;
}

const title = (name: string) => name.charAt(0).toUpperCase() + name.slice(1).replaceAll("-", " ");

/** The files of what was dropped, folders with all that is in them. */
export async function filesOf(entry: FileSystemEntry, folder: string): Promise<Taken[]> {
  if (entry.isFile) {
    const file = await new Promise<File>((ok, no) => (entry as FileSystemFileEntry).file(ok, no));
    return [{ name: folder + file.name, bytes: new Uint8Array(await file.arrayBuffer()) }];
  }
  const reader = (entry as FileSystemDirectoryEntry).createReader();
  const all: FileSystemEntry[] = [];
  for (;;) {
    const some = await new Promise<FileSystemEntry[]>((ok, no) => reader.readEntries(ok, no));
    if (some.length === 0) break;
    all.push(...some);
  }
  return (await Promise.all(all.filter((e) => !e.name.startsWith(".")).map((e) => filesOf(e, `${folder}${entry.name}/`)))).flat();
}

export async function chosen(list: FileList | null): Promise<Taken[]> {
  return Promise.all(
    Array.from(list ?? [], async (f) => ({ name: f.webkitRelativePath || f.name, bytes: new Uint8Array(await f.arrayBuffer()) })),
  );
}
