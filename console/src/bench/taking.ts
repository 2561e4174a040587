// What is dropped or chosen, taken into the kit: a whole kit, sheets, loose pictures, tables.
import { freeKey } from "./keys";
import type { Loose } from "./types";
import { core, edit, openDraft, putFiles, unzipped, useDraft } from "./draft";

export interface Taken {
  name: string;
  bytes: Uint8Array;
}

/** The part of the kit that the bench shows. */
export type Open = { what: "kit" } | { what: "sheet" | "deck" | "layout"; name: string } | { what: "pack"; loose: Loose[] };

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
  const fresh = Object.keys(files).filter((name) => !known.includes(name));
  if (fresh.length > 0) return begin(fresh);
  // Art that the kit has already was brought anew: it is shown where it is used.
  const used = Object.entries(useDraft.getState().manifest.sheets ?? {}).find(([, s]) => known.includes(s.file));
  return used && { what: "sheet", name: used[0] };
}

/** Goes on with files that are new in the kit, and says what to show: what is to be packed first, as that is asked for. */
async function begin(files: string[]): Promise<Open | undefined> {
  const { manifest } = useDraft.getState();
  const begun = await core().begin(files, takenKeys());
  useDraft.setState({ left: begun.left });
  const titled = manifest.name && manifest.name !== "My game";
  if (begun.title && !titled) edit(["name"], begun.title, true); // what is taken in is one change, with the files
  for (const part of ["sheets", "layouts", "decks"] as const) for (const { key, entry } of begun[part]) edit([part, key], entry, true);
  if (begun.loose.length > 0) return { what: "pack", loose: begun.loose };
  const sheet = begun.sheets[0];
  const deck = begun.decks[0];
  if (sheet) return { what: "sheet", name: sheet.key };
  return deck && { what: "deck", name: deck.key };
}

/** The keys that sheets, decks and layouts have. */
export function takenKeys(): string[] {
  const { manifest } = useDraft.getState();
  return Object.keys({ ...manifest.sheets, ...manifest.decks, ...manifest.layouts });
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

/** A file as browsers show it: a TIFF becomes a PNG. */
async function shown(f: Taken): Promise<Taken> {
  return /\.tiff?$/i.test(f.name) ? { name: f.name.replace(/\.tiff?$/i, ".png"), bytes: await core().asPNG(f.bytes) } : f;
}

/** Makes a deck of a sheet's cards, and says its name. */
export function makeDeck(sheet: string, again = false): string {
  const name = freeKey(sheet, "cards", useDraft.getState().manifest.decks);
  edit(["decks", name], { sheet }, again);
  return name;
}

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
