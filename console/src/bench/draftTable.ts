// The table of the draft, for one: the core in this browser holds it and tells what a room
// would tell. Nothing of it is sent. What is laid is written into the draft.
import { create } from "zustand";
import type { Action, Answer, Message, Problem } from "../api/client";
import { bare, fold, type TableState } from "../../client/src/fold";
import type { Live, Notice } from "../room/source";
import type { PicturePut, StepsChecked, TableSource } from "../room/source";
import { core, putFiles, useDraft } from "./draft";
import { showDraftPictures } from "./draftPictures";

/** Actions after which the table is laid otherwise. */
const lays = ["lay-zone", "lay-piece", "take-off", "lay-table"];
/** How long after the last of them the draft is written, in milliseconds. */
const writeAfter = 600;

export class DraftTable implements TableSource {
  readonly joined = { key: "", room: "the draft", seat: 1 };
  readonly alone = true;
  readonly store = create<Live>(() => ({ ...bare, connection: "connecting", saving: true, notices: [], ended: "", guesses: [] }));
  private ticking: ReturnType<typeof setInterval> | undefined;
  private writing: ReturnType<typeof setTimeout> | undefined;
  private forgetPictures: (() => void) | undefined;
  private nextNotice = 1;

  /** toConfirm shows the text of steps and goes on if they shall be done. */
  constructor(private readonly toConfirm: (text: string, then: () => void) => void) {}

  /** Lays the table anew and sits down at its first seat. */
  async start(): Promise<void> {
    this.forgetPictures ??= showDraftPictures();
    this.hear(await core().tryTable(useDraft.getState().manifest.seats ?? 1));
    this.store.setState((s) => ({ connection: "live", here: s.view?.seats.map((seat) => seat.number) ?? [] }));
    clearInterval(this.ticking);
    this.ticking = setInterval(
      () =>
        void core()
          .tick()
          .then((told) => this.hear(told)),
      1000,
    );
  }

  stop(): void {
    clearInterval(this.ticking);
    if (this.writing) this.write();
    this.forgetPictures?.();
    this.forgetPictures = undefined;
  }

  /** Goes over to another seat. */
  async sitAt(seat: number): Promise<void> {
    this.hear(await core().sitAt(seat));
  }

  async act(what: { action: Action } | { steps: string }, confirm?: string): Promise<Answer | Problem> {
    const told = await core().act(JSON.stringify({ ...what, confirm }));
    this.hear(told);
    const settled = told.at(-1);
    if (settled?.type !== "answer" || (!settled.answer && !settled.problem)) throw new Error("the core did not answer");
    const { problem } = settled;
    if (problem) {
      const [text] = problem.details ?? [];
      if (problem.code === "needs-confirming" && text) this.toConfirm(text, () => void this.act(what, text));
      else this.notify(problem.detail, "refused");
      return problem;
    }
    if (!("action" in what) || lays.includes(what.action.do)) this.writeSoon();
    return settled.answer as Answer;
  }

  grip(): void {
    // nobody else is there to take it
  }
  point(): void {
    // nor to see it
  }

  dismiss(id: number): void {
    this.store.setState((s) => ({ notices: s.notices.filter((n) => n.id !== id) }));
  }

  checkSteps(steps: string): Promise<StepsChecked> {
    return core().checkSteps(steps);
  }

  async bringPicture(file: File): Promise<PicturePut> {
    return core().bringPicture(new Uint8Array(await file.arrayBuffer()));
  }

  private hear(told: Message[]): void {
    if (told.length > 0) this.store.setState((s) => told.reduce<TableState>(fold, s));
  }

  private notify(text: string, kind: Notice["kind"]): void {
    const notice = { id: this.nextNotice++, text, kind };
    this.store.setState((s) => ({ notices: [...s.notices.slice(-3), notice] }));
    setTimeout(() => this.dismiss(notice.id), 6000);
  }

  private writeSoon(): void {
    clearTimeout(this.writing);
    this.writing = setTimeout(() => this.write(), writeAfter);
  }

  /** Writes the table as it is laid into the draft's kit.yaml, if it is laid otherwise. */
  private write(): void {
    clearTimeout(this.writing);
    this.writing = undefined;
    void core()
      .keepTable()
      .then(
        (files) => {
          const { files: now } = useDraft.getState();
          const changed = Object.entries(files).some(([name, bytes]) => !same(now[name], bytes));
          return changed ? putFiles(files) : undefined;
        },
        (wrong: unknown) => this.notify(wrong instanceof Error ? wrong.message : String(wrong), "refused"),
      );
  }
}

function same(a: Uint8Array | undefined, b: Uint8Array): boolean {
  return a?.length === b.length && a.every((byte, i) => byte === b[i]);
}
