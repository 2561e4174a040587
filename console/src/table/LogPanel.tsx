// The log, and the box to say in words what shall be done.
import { memo, useId, useState, type FormEvent } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import type { LogLine, View } from "../api/client";
import { complete } from "./complete";
import { useMeant } from "./meant";
import "./LogPanel.css";

interface Props {
  lines: LogLine[];
  view: View;
  canAct: boolean;
  onSteps: (steps: string) => Promise<boolean>;
}

export function LogPanel({ lines, view, canAct, onSteps }: Props) {
  const [steps, setSteps] = useState("");
  const [only, setOnly] = useState(-1); // the seat whose lines are shown; -1: all
  const ways = useId();
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    if (await onSteps(steps)) setSteps("");
  };
  return (
    <aside className="log-panel" aria-label="Log">
      <h2>
        Log
        <Form.Select size="sm" aria-label="Whose lines" value={only} onChange={(e) => setOnly(Number(e.target.value))}>
          <option value={-1}>of everyone</option>
          {view.seats
            .filter((s) => s.name)
            .map((s) => (
              <option key={s.number} value={s.number}>
                of {s.name}
              </option>
            ))}
        </Form.Select>
      </h2>
      <div className="log-lines" role="log" tabIndex={0} aria-label="Who did what">
        <ol>
          {lines
            .filter((line) => only < 0 || line.seat === only)
            .map((line) => (
              <Line key={line.number} line={line} colour={view.seats.find((s) => s.number === line.seat)?.colour} />
            ))}
        </ol>
      </div>
      <Form onSubmit={(e) => void submit(e)} className="steps-box">
        <Form.Control
          size="sm"
          value={steps}
          onChange={(e) => setSteps(e.target.value)}
          aria-label="Steps"
          placeholder="draw 2 from weather to my hand"
          disabled={!canAct}
          list={ways}
          autoComplete="off"
        />
        <datalist id={ways}>
          {complete(steps, view).map((way) => (
            <option key={way} value={way} />
          ))}
        </datalist>
        <Button size="sm" type="submit" disabled={!canAct || steps.trim() === ""}>
          Do
        </Button>
      </Form>
    </aside>
  );
}

/** Who did what; pointing at it shows where. */
const Line = memo(function Line({ line, colour }: { line: LogLine; colour: string | undefined }) {
  return (
    <li
      onPointerEnter={() => useMeant.setState({ place: line.place ?? null })}
      onPointerLeave={() => useMeant.setState({ place: null })}
      style={{ "--seat": colour }}
    >
      <span className="log-who">{line.who}</span> <Said text={line.text} />
    </li>
  );
});

/** A step, and behind it the cards that only who saw them can read. */
function Said({ text }: { text: string }) {
  if (text.startsWith("# ")) return <>{text.slice(2)}</>; // no step
  const [step, names] = text.split("  # ");
  return (
    <>
      {step}
      {names && <em className="log-names"> {names}</em>}
    </>
  );
}
