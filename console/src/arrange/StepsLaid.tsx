// Steps that are checked while they are typed, on the table as it is.
import { useQuery } from "@tanstack/react-query";
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { useTable } from "../table/TableContext";
import { useDelayed } from "./delayed";
import "./StepsLaid.css";

/** How long one may pause before what was typed is checked, in milliseconds. */
const pause = 300;

export function StepsLaid({
  label,
  value,
  disabled,
  onLay,
}: {
  label: string;
  value: string;
  disabled?: boolean;
  onLay: (value: string) => void;
}) {
  const { source } = useTable();
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const text = typed ?? value;
  const steps = useDelayed(text, pause);
  const { data } = useQuery({
    queryKey: ["steps", source.joined.room, steps],
    enabled: steps.trim() !== "",
    queryFn: () => source.checkSteps(steps),
  });
  const checked = steps === text && text.trim() !== "" ? data : undefined;
  const line = checked?.line ?? 0;
  const lines = text.split("\n").length;
  return (
    <div className="laid-field tall">
      <label htmlFor={id}>{label}</label>
      <div className="steps-laid">
        <ol aria-hidden="true">
          {Array.from({ length: lines }, (_, i) => (
            <li key={i} className={i + 1 === line ? "wrong" : ""}>
              {i + 1}
            </li>
          ))}
        </ol>
        <Form.Control
          as="textarea"
          size="sm"
          id={id}
          rows={Math.max(4, lines + 1)}
          value={text}
          disabled={disabled}
          spellCheck={false}
          wrap="off"
          aria-invalid={!!checked?.mistake}
          aria-describedby={`${id}-mistake`}
          onChange={(e) => setTyped(e.target.value)}
          onKeyDown={(e) => {
            if (e.key === "Escape") setTyped(null);
            e.stopPropagation();
          }}
          onBlur={() => {
            if (typed !== null && typed !== value) onLay(typed);
            setTyped(null);
          }}
        />
      </div>
      <p id={`${id}-mistake`} className={`steps-mistake ${checked?.mistake ? "wrong" : ""}`} role="status">
        {checked ? (checked.mistake ?? "These steps are understood.") : ""}
      </p>
    </div>
  );
}
