// The kit on the bench: its files in memory and its kit.yaml, which keeps its
// comments and its order while it is edited. Nothing of it is stored before Keep.
import { wrap, type Remote } from "comlink";
import { unzipSync, zipSync, type Zippable } from "fflate";
import { parseDocument, type Document } from "yaml";
import { create } from "zustand";
import type { Bench } from "./core.worker";
import type { Found, Manifest } from "./types";

const manifestFile = "kit.yaml";

const emptyKit = `kit: 1
name: My game
seats: 4

table:
  size: [1200, 760]
  zones:
    - {key: pile, kind: pile, at: [200, 300]}
    - {key: hand, kind: hand, each: seat, sight: owner}
`;

export interface Draft {
  files: Record<string, Uint8Array>;
  manifest: Manifest;
  found: Found | null;
  checking: boolean;
  changed: boolean; // since it was opened or kept
  busy: string; // what long work is going on
  error: string;
}

export const useDraft = create<Draft>(() => ({
  files: {},
  manifest: {},
  found: null,
  checking: false,
  changed: false,
  busy: "",
  error: "",
}));

let worker: Remote<Bench> | undefined;

/** The core in its worker, started when it is first needed. */
export function core(): Remote<Bench> {
  worker ??= wrap<Bench>(new Worker(new URL("./core.worker.ts", import.meta.url), { type: "classic" }));
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

/** Opens a kit's zip, or begins an empty kit. */
export async function openDraft(zip?: Uint8Array): Promise<void> {
  const files: Record<string, Uint8Array> = {};
  if (zip) {
    const unpacked = unzipSync(zip);
    const top = Object.keys(unpacked)
      .filter((f) => f.split("/").pop() === manifestFile)
      .sort((a, b) => a.length - b.length)[0];
    if (!top) throw new Error("The zip holds no kit.yaml.");
    const folder = top.slice(0, -manifestFile.length);
    for (const [name, bytes] of Object.entries(unpacked)) {
      if (name.startsWith(folder) && !name.endsWith("/")) files[name.slice(folder.length)] = bytes;
    }
  } else {
    files[manifestFile] = new TextEncoder().encode(emptyKit);
  }
  for (const name of Object.keys(useDraft.getState().files)) await core().drop(name);
  useDraft.setState({ files: {}, found: null });
  for (const [name, bytes] of Object.entries(files)) await core().put(name, bytes);
  useDraft.setState({ files, manifest: documentOf(files).toJS() as Manifest, changed: false });
  checkSoon(0);
}

/** Puts files into the kit. */
export async function putFiles(added: Record<string, Uint8Array>): Promise<void> {
  for (const [name, bytes] of Object.entries(added)) await core().put(name, bytes);
  useDraft.setState((d) => {
    const files = { ...d.files, ...added };
    return { files, manifest: manifestFile in added ? (documentOf(files).toJS() as Manifest) : d.manifest, changed: true };
  });
  checkSoon();
}

/** Changes a part of kit.yaml; undefined takes it away. */
export function edit(path: (string | number)[], value: unknown): void {
  const { files } = useDraft.getState();
  const document = documentOf(files);
  if (value === undefined) document.deleteIn(path);
  else document.setIn(path, document.createNode(value, { flow: path.length > 2 }));
  const bytes = new TextEncoder().encode(document.toString({ lineWidth: 0 }));
  useDraft.setState({ files: { ...files, [manifestFile]: bytes }, manifest: document.toJS() as Manifest, changed: true });
  void core().put(manifestFile, bytes);
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

/** A free name beginning with some text: letters, letters-2. */
export function freeName(like: string, taken: Record<string, unknown> | undefined): string {
  const base =
    like
      .toLowerCase()
      .replace(/\.[a-z]+$/, "")
      .replace(/[^a-z0-9]+/g, "-")
      .replace(/^-+|-+$/g, "")
      .slice(0, 36) || "sheet";
  let name = base;
  for (let n = 2; taken && name in taken; n++) name = `${base}-${n}`;
  return name;
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

export const isPicture = (name: string) => /\.(png|jpe?g|gif|webp)$/i.test(name);
export const isTableFile = (name: string) => /\.(csv|tsv|txt|xlsx)$/i.test(name);
