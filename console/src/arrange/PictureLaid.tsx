// A picture that is brought to the table from a file.
import { useId, useState } from "react";
import Form from "react-bootstrap/Form";
import { api, sentence, type Picture } from "../api/client";
import { useTable } from "../table/TableContext";
import "./PictureLaid.css";

interface Props {
  label: string;
  picture?: Picture;
  onLay: (picture: Picture, size: { wide: number; high: number }) => void;
}

export function PictureLaid({ label, picture, onLay }: Props) {
  const { seat } = useTable();
  const id = useId();
  const [state, setState] = useState<{ busy: boolean; problem: string }>({ busy: false, problem: "" });
  const bring = async (file: File) => {
    setState({ busy: true, problem: "" });
    const { data, error } = await api.POST("/api/rooms/{room}/pictures", {
      params: { path: { room: seat.room } },
      headers: { Authorization: `Bearer ${seat.key}`, "Content-Type": "application/octet-stream" },
      body: file as unknown as string,
      bodySerializer: (body) => body,
    });
    setState({ busy: false, problem: data ? "" : sentence(error) });
    if (data) onLay(data.picture, data);
  };
  return (
    <div className="laid-field">
      <label htmlFor={id}>{label}</label>
      <span className="laid-picture">
        {picture?.small && <img src={`/pictures/${picture.small}`} alt="" />}
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
