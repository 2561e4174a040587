// The inputs of the inspector. A value is laid when one leaves the field or presses
// Enter, not with every letter; Escape leaves it as it was.
import { useId, useState, type KeyboardEvent } from "react";
import Form from "react-bootstrap/Form";
import "./Fields.css";

interface Common<T> {
  label: string;
  value: T;
  disabled?: boolean;
  onLay: (value: T) => void;
}

const leaveOn = (e: KeyboardEvent<HTMLElement>, stop: () => void) => {
  if (e.key === "Enter" && !(e.target instanceof HTMLTextAreaElement)) e.currentTarget.blur();
  if (e.key === "Escape") stop();
  e.stopPropagation();
};

export function TextLaid({ label, value, disabled, onLay, rows }: Common<string> & { rows?: number }) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  const shared = {
    id,
    disabled,
    value: typed ?? value,
    size: "sm" as const,
    onChange: (e: { target: { value: string } }) => setTyped(e.target.value),
    onKeyDown: (e: KeyboardEvent<HTMLElement>) => leaveOn(e, () => setTyped(null)),
    onBlur: () => {
      if (typed !== null && typed !== value) onLay(typed);
      setTyped(null);
    },
  };
  return (
    <label className={`laid-field ${rows ? "tall" : ""}`} htmlFor={id}>
      <span>{label}</span>
      {rows ? <Form.Control as="textarea" {...shared} rows={rows} /> : <Form.Control {...shared} />}
    </label>
  );
}

export function NumberLaid({
  label,
  value,
  disabled,
  onLay,
  least,
  most,
  none,
}: Common<number | undefined> & { least: number; most: number; none?: string }) {
  const id = useId();
  const [typed, setTyped] = useState<string | null>(null);
  return (
    <label className="laid-field" htmlFor={id}>
      <span>{label}</span>
      <Form.Control
        size="sm"
        id={id}
        type="number"
        min={least}
        max={most}
        placeholder={none}
        disabled={disabled}
        value={typed ?? (value === undefined ? "" : String(Math.round(value * 10) / 10))}
        onChange={(e) => setTyped(e.target.value)}
        onKeyDown={(e) => leaveOn(e, () => setTyped(null))}
        onBlur={() => {
          const n = Number(typed);
          if (typed === "" && none) onLay(undefined);
          else if (typed !== null && typed !== "" && Number.isFinite(n) && n !== value) onLay(Math.min(most, Math.max(least, n)));
          setTyped(null);
        }}
      />
    </label>
  );
}

export function ChoiceLaid({ label, value, choices, disabled, onLay }: Common<string> & { choices: [string, string][] }) {
  const id = useId();
  return (
    <label className="laid-field" htmlFor={id}>
      <span>{label}</span>
      <Form.Select
        size="sm"
        id={id}
        value={value}
        disabled={disabled}
        onChange={(e) => onLay(e.target.value)}
        onKeyDown={(e) => e.stopPropagation()}
      >
        {choices.map(([key, text]) => (
          <option key={key} value={key}>
            {text}
          </option>
        ))}
      </Form.Select>
    </label>
  );
}

export function TickLaid({ label, value, disabled, onLay }: Common<boolean>) {
  const id = useId();
  return (
    <Form.Check className="laid-tick" id={id} label={label} checked={value} disabled={disabled} onChange={(e) => onLay(e.target.checked)} />
  );
}
