// The small inputs of the bench.
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { shown, typed } from "./grid";
import "./fields.css";

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
  const id = useId();
  const [typing, setTyping] = useState<string | null>(null); // what stands there while it is being typed
  const text = typing ?? String(value);
  return (
    <label htmlFor={id} className="bench-field">
      <span>{label}</span>
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
    </label>
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
  const id = useId();
  return (
    <label htmlFor={id} className={`bench-field ${wide ? "wide" : ""}`}>
      <span>{label}</span>
      <Form.Control size="sm" id={id} value={value} placeholder={hint} onChange={(e) => onChange(e.target.value || undefined)} />
    </label>
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
  hint: string;
  onChange: (value: number[]) => void;
}) {
  const id = useId();
  const [typing, setTyping] = useState<string | null>(null);
  return (
    <label htmlFor={id} className="bench-field">
      <span>{label}</span>
      <Form.Control
        size="sm"
        id={id}
        inputMode="numeric"
        title={hint}
        value={typing ?? shown(value)}
        isInvalid={typing !== null && !typed(typing, of)}
        onBlur={() => setTyping(null)}
        onChange={(e) => {
          setTyping(e.target.value);
          const numbers = typed(e.target.value, of);
          if (numbers) onChange(numbers);
        }}
      />
    </label>
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
  const id = useId();
  return (
    <label htmlFor={id} className="bench-field">
      <span>{label}</span>
      <Form.Select size="sm" id={id} value={value} onChange={(e) => onChange(e.target.value || undefined)}>
        {choices.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </Form.Select>
    </label>
  );
}

export function CheckField({ label, value, onChange }: { label: string; value: boolean; onChange: (value: boolean) => void }) {
  const id = useId();
  return <Form.Check className="bench-check" id={id} label={label} checked={value} onChange={(e) => onChange(e.target.checked)} />;
}
