// The kit on the bench: its files in memory and its kit.yaml, which keeps its
// comments and its order while it is edited. Until Keep it is in this browser alone.
import { wrap, type Remote } from "comlink";
import { unzipSync, zipSync, type Zippable } from "fflate";
import { parseDocument, type Document } from "yaml";
import { create } from "zustand";
import { pictureEndings } from "../api/tables.gen";
import { service } from "../api/service";
import type { Bench } from "./core.worker";
import type { Found, Manifest } from "./types";

const manifestFile = "kit.yaml";

const emptyKit = `kit: 1
name: My game
seats: 4
`;

export type Files = Record<string, Uint8Array>;

/** The edition that a draft was made from. */
export interface Origin {
  kit: string;
  name: string;
  edition: number;
}

export interface Draft {
  files: Files;
  manifest: Manifest;
  found: Found | null;
  checking: boolean;
  changed: boolean; // since it was opened or kept
  kept: Files | null; // as it was opened or kept; null: only this browser has it
  of: Origin | null;
  past: Files[]; // for undo, the newest last
  future: Files[]; // for redo, the next last
  busy: string; // what long work is going on
  error: string;
  left: string[]; // what of the files that were brought was left out, and what to do about it
}

export const useDraft = create<Draft>(() => ({
  files: {},
  manifest: {},
  found: null,
  checking: false,
  changed: false,
  kept: null,
  of: null,
  past: [],
  future: [],
  busy: "",
  error: "",
  left: [],
}));

let worker: Remote<Bench> | undefined;

/** The core in its worker, started when it is first needed. */
export function core(): Remote<Bench> {
  worker ??= wrap<Bench>(new Worker(new URL("./core.worker.ts", import.meta.url), { type: "classic", name: service }));
  return worker;
}

const text = (bytes: Uint8Array | undefined) => new TextDecoder().decode(bytes);

function documentOf(files: Record<string, Uint8Array>): Document {
  return parseDocument(text(files[manifestFile]));
}

/** Shows long work while it goes on, and its error if it fails. */
export async function during<T>(busy: string, work: () => Promise<T>): Promise<T | undefined> {
  useDraft.setState({ busy, error: "" });
  try {
    return await work();
  } catch (problem) {
    useDraft.setState({ error: problem instanceof Error ? problem.message : String(problem) });
    return undefined;
  } finally {
    useDraft.setState({ busy: "" });
  }
}

let turn: Promise<unknown> = Promise.resolve();

/** Does what opens a kit, or brings files to it, one after the other: what is dropped while a kit opens comes to that kit. */
export function inTurn<T>(work: () => Promise<T>): Promise<T> {
  const mine = turn.then(work, work);
  turn = mine;
  return mine;
}

/** The files of a kit's zip, from its folder on. */
export function unzipped(zip: Uint8Array): Files {
  const unpacked = unzipSync(zip);
  const top = Object.keys(unpacked)
    .filter((f) => f.split("/").pop() === manifestFile)
    .sort((a, b) => a.length - b.length)[0];
  if (!top) throw new Error("The zip holds no kit.yaml.");
  const folder = top.slice(0, -manifestFile.length);
  const files: Files = {};
  for (const [name, bytes] of Object.entries(unpacked)) {
    if (name.startsWith(folder) && !name.endsWith("/")) files[name.slice(folder.length)] = bytes;
  }
  return files;
}

/** Opens a kit's files, or begins an empty kit. The files are kept already unless kept is null. */
export async function openDraft(
  files: Files = { [manifestFile]: new TextEncoder().encode(emptyKit) },
  of: Origin | null = null,
  kept: Files | null = files,
): Promise<void> {
  await show(files);
  useDraft.setState({ files, manifest: manifestOf(files), changed: kept === null, kept, of, past: [], future: [], found: null, left: [] });
  checkSoon(0);
}

const manifestOf = (files: Files) => documentOf(files).toJS() as Manifest;

/** Has the core see these files in place of those it has. */
async function show(files: Files): Promise<void> {
  const { files: former } = useDraft.getState();
  for (const name of Object.keys(former)) if (!(name in files)) await core().drop(name);
  for (const [name, bytes] of Object.entries(files)) if (former[name] !== bytes) await core().put(name, bytes);
}

/** How many steps back there are. */
const mostPast = 100;

/** Goes on with other files; what was before can be brought back, but where the same change goes on. */
function goOn(files: Files, changed: Pick<Draft, "manifest">, again = false): void {
  useDraft.setState((d) => ({
    ...changed,
    files,
    changed: true,
    past: again ? d.past : [...d.past.slice(-mostPast), d.files],
    future: [],
  }));
  checkSoon();
}

/** Puts files into the kit. */
export async function putFiles(added: Files): Promise<void> {
  for (const [name, bytes] of Object.entries(added)) await core().put(name, bytes);
  const d = useDraft.getState();
  const files = { ...d.files, ...added };
  goOn(files, { manifest: manifestFile in added ? manifestOf(files) : d.manifest });
}

/** Changes a part of kit.yaml; undefined takes it away. Of a change that goes on, such as a drag, all is undone at once. */
export function edit(path: (string | number)[], value: unknown, again = false): void {
  const { files } = useDraft.getState();
  const document = documentOf(files);
  if (value === undefined) document.deleteIn(path);
  else document.setIn(path, document.createNode(value, { flow: path.length > 2 }));
  const bytes = new TextEncoder().encode(document.toString({ lineWidth: 0 }));
  goOn({ ...files, [manifestFile]: bytes }, { manifest: document.toJS() as Manifest }, again);
  void core().put(manifestFile, bytes);
}

let ordered: Promise<void> = Promise.resolve();

/** Changes what takes a moment, and goes back and on, one after the other, however fast they are asked for. */
export function inOrder(step: () => Promise<void>): Promise<void> {
  ordered = ordered.then(step, step);
  return ordered;
}

/** Brings back what was before the last change, or does it again. */
export const undo = (): Promise<void> =>
  inOrder(async () => {
    const { past, future, files } = useDraft.getState();
    const former = past.at(-1);
    if (former) await goTo(former, { past: past.slice(0, -1), future: [...future, files] });
  });

export const redo = (): Promise<void> =>
  inOrder(async () => {
    const { past, future, files } = useDraft.getState();
    const next = future.at(-1);
    if (next) await goTo(next, { past: [...past, files], future: future.slice(0, -1) });
  });

async function goTo(files: Files, history: Pick<Draft, "past" | "future">): Promise<void> {
  await show(files);
  useDraft.setState((d) => ({ files, manifest: manifestOf(files), changed: files !== d.kept, ...history }));
  checkSoon();
}

let waiting: ReturnType<typeof setTimeout> | undefined;
let round = 0;

/** Looks the whole kit over once nothing has changed for a moment. */
export function checkSoon(after = 500): void {
  clearTimeout(waiting);
  waiting = setTimeout(() => {
    const mine = ++round;
    useDraft.setState({ checking: true });
    core()
      .check()
      .then(
        (found) => {
          if (mine === round) useDraft.setState({ found, checking: false });
        },
        (problem: unknown) => {
          if (mine === round) useDraft.setState({ checking: false, error: String(problem) });
        },
      );
  }, after);
}

/** The kit as one zip, for the service or to take away. */
export function zipped(files: Record<string, Uint8Array>): Uint8Array {
  const entries: Zippable = {};
  for (const name of Object.keys(files).sort()) {
    const bytes = files[name];
    if (bytes) entries[name] = [bytes, { level: /\.(png|jpe?g|webp|gif|xlsx)$/i.test(name) ? 0 : 6, mtime: "1980-01-01T00:00:00" }]; // the same kit, the same bytes
  }
  return zipSync(entries);
}

/** An address under which the page shows a file of the kit. */
const shown = new WeakMap<Uint8Array, string>();
export function addressOf(bytes: Uint8Array | undefined): string | undefined {
  if (!bytes) return undefined;
  let address = shown.get(bytes);
  if (!address) {
    address = URL.createObjectURL(new Blob([bytes as BlobPart]));
    shown.set(bytes, address);
  }
  return address;
}

const ending = (name: string) => /\.[^./]+$/.exec(name.toLowerCase())?.[0] ?? "";
export const isPicture = (name: string): boolean => (pictureEndings as readonly string[]).includes(ending(name));
