// Keeping a draft: the files that the service has already are not sent.
import type { components } from "../../client/src/schema.gen";
import type { Problem } from "../api/client";
import { service } from "../api/service";
import { asMaker, useMaker } from "../maker/maker";
import { core, useDraft, type Origin } from "./draft";

export type KitPut = components["schemas"]["KitPut"];

/** What keeping came to: the edition, or why not. */
export type Outcome = { put: KitPut } | { problem: Problem };

export interface Keeping {
  note: string;
  despite: boolean;
  /** The edition it comes after; left out, whichever is the newest. */
  after?: number;
  onProgress: (sent: number, all: number) => void;
  signal: AbortSignal;
}

const noAnswer: Problem = {
  status: 0,
  code: "no-answer",
  title: "No answer",
  type: "",
  detail: "The service does not answer. Check your connection, and keep it again: what was sent already is not sent twice.",
};

/** Keeps the draft as the next edition of its kit. */
export async function keepDraft({ note, despite, after, onProgress, signal }: Keeping): Promise<Outcome> {
  const { files } = useDraft.getState();
  const named = await Promise.all(Object.keys(files).map(async (name) => ({ name, hash: await core().hash(name) })));
  const lacking = await asMaker.POST("/api/files/lacking", { body: { hashes: named.map((f) => f.hash) }, signal }).catch(() => undefined);
  if (!lacking?.data) return { problem: lacking?.error ?? noAnswer };
  const wanted = new Map(lacking.data.hashes.map((hash) => [hash, files[named.find((f) => f.hash === hash)?.name ?? ""]]));
  let sent = 0;
  const all = [...wanted.values()].reduce((n, bytes) => n + (bytes?.length ?? 0), 0);
  for (const bytes of wanted.values()) {
    if (!bytes) continue;
    const problem = await send(bytes, (now) => onProgress(sent + now, all), signal);
    if (problem) return { problem };
    sent += bytes.length;
    onProgress(sent, all);
  }
  const put = await asMaker
    .POST("/api/editions", { body: { files: named, note, despite_warnings: despite, after }, signal })
    .catch(() => undefined);
  return put?.data ? { put: put.data } : { problem: put?.error ?? noAnswer };
}

/** Sends a file, telling how much of it has gone. */
function send(bytes: Uint8Array, onProgress: (sent: number) => void, signal: AbortSignal): Promise<Problem | null> {
  return new Promise((settle) => {
    const request = new XMLHttpRequest(); // fetch does not tell how much was sent
    request.open("POST", `${service}/api/files`);
    request.setRequestHeader("Content-Type", "application/octet-stream");
    request.setRequestHeader("Authorization", `Bearer ${useMaker.getState().key}`);
    request.upload.onprogress = (e) => onProgress(e.loaded);
    request.onload = () => {
      if (request.status < 400) settle(null);
      else
        try {
          settle(JSON.parse(request.responseText) as Problem);
        } catch {
          settle(noAnswer);
        }
    };
    request.onerror = request.ontimeout = () => settle(noAnswer);
    request.onabort = () =>
      settle({ ...noAnswer, code: "cancelled", detail: "Cancelled. Nothing was kept; what was sent already is not sent twice." });
    signal.addEventListener("abort", () => request.abort());
    request.send(bytes as unknown as XMLHttpRequestBodyInit);
  });
}

/** The edition that a draft goes on from once it was kept. */
export const originOf = (put: KitPut): Origin => ({ kit: put.id, name: put.name, edition: put.edition });
