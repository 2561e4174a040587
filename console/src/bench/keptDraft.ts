// Drafts in this browser: each change is written to its own store, so that a closed tab
// loses nothing. A draft belongs to the kit that it is of, or to none yet.
import { get, set, del, createStore, type UseStore } from "idb-keyval";
import { useDraft, openDraft, type Files, type Origin } from "./draft";
import { create } from "zustand";

interface Kept {
  files: Files;
  of: Origin | null;
  name: string;
  at: number;
}

/** Why drafts are not kept in this browser; empty while they are. */
export const useNotKept = create<{ why: string }>(() => ({ why: "" }));

let store: UseStore | undefined;
const drafts = () => (store ??= createStore("damselfly", "drafts"));
const nameOf = (kit: string | undefined) => kit ?? "of no kit yet";

/** What is about to be written, and when. */
let pending: { kept: Kept; wait: ReturnType<typeof setTimeout> } | undefined;

function writeLater(kept: Kept) {
  clearTimeout(pending?.wait);
  pending = { kept, wait: setTimeout(writeNow, 400) };
}

function writeNow() {
  if (!pending) return;
  const { kept, wait } = pending;
  clearTimeout(wait);
  pending = undefined;
  void write(kept);
}

/** Writes the draft down a moment after each change, and at once when another is opened; forgets it once all is undone. */
export function keepDrafts(): () => void {
  return useDraft.subscribe((now, before) => {
    if (now.files === before.files && now.changed === before.changed && now.of === before.of) return;
    const undone = !now.changed && now.future.length > before.future.length;
    if (undone) void forgetDraft(now.of?.kit);
    else if (!now.changed || now.of?.kit !== before.of?.kit) writeNow();
    if (now.changed) writeLater({ files: now.files, of: now.of, name: now.manifest.name ?? "", at: Date.now() });
  });
}

async function write(kept: Kept): Promise<void> {
  try {
    await set(nameOf(kept.of?.kit), kept, drafts());
    useNotKept.setState({ why: "" });
  } catch (wrong) {
    const full = wrong instanceof DOMException && wrong.name === "QuotaExceededError";
    useNotKept.setState({
      why: full
        ? "This browser has no room left for the draft. Keep it, or take it away as a zip, before you close the tab."
        : "This browser keeps no drafts, perhaps because the window is a private one. Keep it, or take it away as a zip, before you close the tab.",
    });
  }
}

export async function forgetDraft(kit: string | undefined): Promise<void> {
  clearTimeout(pending?.wait);
  pending = undefined;
  await del(nameOf(kit), drafts()).catch(() => undefined);
}

/** The draft of a kit, or of none, that this browser kept. */
export async function keptDraft(kit?: string): Promise<Kept | undefined> {
  return get<Kept>(nameOf(kit), drafts()).catch(() => undefined);
}

export async function goOnWith(kept: Kept): Promise<void> {
  await openDraft(kept.files, kept.of, null);
}
