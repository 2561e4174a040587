// A line to be copied: a link, a key.
import { useRef, useState } from "react";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import InputGroup from "react-bootstrap/InputGroup";

export function CopyLine({ label, text }: { label: string; text: string }) {
  const line = useRef<HTMLInputElement>(null);
  const [copied, setCopied] = useState(false);
  const copy = async () => {
    line.current?.select();
    try {
      await navigator.clipboard.writeText(text); // not where the page came without encryption
    } catch {
      document.execCommand("copy");
    }
    setCopied(true);
    setTimeout(() => setCopied(false), 2000);
  };
  return (
    <InputGroup size="sm">
      <Form.Control ref={line} aria-label={label} readOnly value={text} onFocus={(e) => e.target.select()} />
      <Button variant="outline-primary" onClick={() => void copy()}>
        {copied ? "Copied" : "Copy"}
      </Button>
    </InputGroup>
  );
}
