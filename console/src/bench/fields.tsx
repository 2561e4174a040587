// The small inputs of the bench.
import { useId, useState, type ReactNode } from "react";
import Form from "react-bootstrap/Form";
import { shown, typed } from "./grid";
import "./fields.css";

/** An input with its name above it. */
function Labelled({ label, wide, children }: { label: string; wide?: boolean; children: (id: string) => ReactNode }) {
  const id = useId();
  return (
    <label htmlFor={id} className={wide ? "bench-field wide" : "bench-field"}>
      <span>{label}</span>
      {children(id)}
    </label>
  );
}

export function NumberField({
  label,
  value,
  least,
  most,
  step = 1,
  zero,
  onChange,
}: {
  label: string;
  value: number;
  least: number;
  most: number;
  step?: number;
  zero?: string;
  onChange: (value: number | undefined) => void;
}) {
  const [typing, setTyping] = useState<string | null>(null); // what stands there while it is being typed
  const text = typing ?? String(value);
  return (
    <Labelled label={label}>
      {(id) => (
        <Form.Control
          size="sm"
          id={id}
          type="number"
          value={zero && Number(text) === 0 ? "" : text}
          placeholder={zero}
          min={least}
          max={most}
          step={step}
          onBlur={() => setTyping(null)}
          onChange={(e) => {
            setTyping(e.target.value);
            const n = Number(e.target.value);
            if (e.target.value === "" && zero) onChange(undefined);
            else if (e.target.value !== "" && Number.isFinite(n) && n >= least && n <= most) onChange(n);
          }}
        />
      )}
    </Labelled>
  );
}

export function TextField({
  label,
  value,
  hint,
  wide,
  onChange,
}: {
  label: string;
  value: string;
  hint?: string;
  wide?: boolean;
  onChange: (value: string | undefined) => void;
}) {
  return (
    <Labelled label={label} wide={wide}>
      {(id) => (
        <Form.Control
          size="sm"
          id={id}
          dir="auto"
          value={value}
          placeholder={hint}
          onChange={(e) => onChange(e.target.value || undefined)}
        />
      )}
    </Labelled>
  );
}

/** Several numbers, or one for all of them: "12", or "12, 8, 12, 8". */
export function NumbersField({
  label,
  value,
  of,
  hint,
  onChange,
}: {
  label: string;
  value: number[];
  of: number;
  /** What the numbers are where they differ. */
  hint: string;
  onChange: (value: number[]) => void;
}) {
  const [typing, setTyping] = useState<string | null>(null);
  return (
    <Labelled label={value.every((n) => n === value[0]) ? label : `${label}: ${hint}`}>
      {(id) => (
        <Form.Control
          size="sm"
          id={id}
          inputMode="numeric"
          aria-label={label}
          title={`Pixels: one number, or ${hint}`}
          value={typing ?? shown(value)}
          isInvalid={typing !== null && !typed(typing, of)}
          onBlur={() => setTyping(null)}
          onChange={(e) => {
            setTyping(e.target.value);
            const numbers = typed(e.target.value, of);
            if (numbers) onChange(numbers);
          }}
        />
      )}
    </Labelled>
  );
}

export function Choice({
  label,
  value,
  choices,
  onChange,
}: {
  label: string;
  value: string;
  choices: [string, string][];
  onChange: (value: string | undefined) => void;
}) {
  return (
    <Labelled label={label}>
      {(id) => (
        <Form.Select size="sm" id={id} value={value} onChange={(e) => onChange(e.target.value || undefined)}>
          {choices.map(([key, text]) => (
            <option key={key} value={key}>
              {text}
            </option>
          ))}
        </Form.Select>
      )}
    </Labelled>
  );
}

export function CheckField({ label, value, onChange }: { label: string; value: boolean; onChange: (value: boolean) => void }) {
  const id = useId();
  return <Form.Check className="bench-check" id={id} label={label} checked={value} onChange={(e) => onChange(e.target.checked)} />;
}
