// Trying the draft alone: its table, with every seat to sit in.
import { useEffect, useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import { startArranging } from "../arrange/arranging";
import { TablePage } from "./TablePage";
import { askFor } from "../parts/Asking";
import { DraftTable } from "../bench/draftTable";
import "./TryTable.css";

export function TryTable({ arrange, onBack }: { arrange: boolean; onBack: () => void }) {
  const [table] = useState(() => new DraftTable(askToConfirm));
  const [problem, setProblem] = useState("");
  const seats = table.store((s) => s.view?.seats);
  const you = table.store((s) => s.view?.you ?? 1);
  useEffect(() => {
    table.start().then(
      () => {
        if (arrange) startArranging();
      },
      (wrong: unknown) => setProblem(wrong instanceof Error ? wrong.message : String(wrong)),
    );
    return () => table.stop();
  }, [table, arrange]);
  if (problem) {
    return (
      <main className="doorway">
        <section className="doorway-sheet">
          <h1>Not yet</h1>
          <p role="alert">{problem}</p>
          <Button onClick={onBack}>Back to the bench</Button>
        </section>
      </main>
    );
  }
  const bar = (
    <>
      <Button size="sm" onClick={onBack}>
        Back to the bench
      </Button>
      <Form.Select
        size="sm"
        className="try-seat"
        aria-label="Your seat"
        value={you}
        onChange={(e) => void table.sitAt(Number(e.target.value))}
      >
        {seats?.map((s) => (
          <option key={s.number} value={s.number}>
            at seat {s.number}, {s.name}
          </option>
        ))}
      </Form.Select>
      <Button size="sm" variant="outline-secondary" onClick={() => void table.start()}>
        Begin anew
      </Button>
    </>
  );
  return <TablePage connection={table} onGone={onBack} bar={bar} />;
}

/** Asks before the steps of a cue do what only this seat can see. */
function askToConfirm(text: string, then: () => void) {
  askFor(
    { question: "Do these steps?", detail: `They would show, give or move cards that only this seat sees:\n\n${text}`, yes: "Do them" },
    then,
  );
}
