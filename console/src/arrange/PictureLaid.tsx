// A picture that is brought to the table from a file.
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import type { Picture } from "../api/client";
import { usePicture } from "../api/pictures";
import { useTable } from "../table/TableContext";
import "./PictureLaid.css";

interface Props {
  label: string;
  picture?: Picture;
  onLay: (picture: Picture, size: { wide: number; high: number }) => void;
}

export function PictureLaid({ label, picture, onLay }: Props) {
  const { source } = useTable();
  const shown = usePicture(picture?.small, "small");
  const id = useId();
  const [state, setState] = useState<{ busy: boolean; problem: string }>({ busy: false, problem: "" });
  const bring = async (file: File) => {
    setState({ busy: true, problem: "" });
    try {
      const put = await source.bringPicture(file);
      setState({ busy: false, problem: "" });
      onLay(put.picture, put);
    } catch (wrong) {
      setState({ busy: false, problem: wrong instanceof Error ? wrong.message : String(wrong) });
    }
  };
  return (
    <div className="laid-field">
      <label htmlFor={id}>{label}</label>
      <span className="laid-picture">
        {shown && <img src={shown} alt="" />}
        <Form.Control
          size="sm"
          id={id}
          type="file"
          accept="image/png,image/jpeg,image/webp,image/gif"
          disabled={state.busy}
          onChange={(e) => {
            const file = e.target instanceof HTMLInputElement && e.target.files?.[0];
            if (file) void bring(file);
          }}
        />
      </span>
      {state.problem && (
        <p className="steps-mistake wrong" role="alert">
          {state.problem}
        </p>
      )}
    </div>
  );
}
