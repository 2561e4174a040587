// What belongs to the table as a whole, and keeping it in the kit.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { sentence, type Action } from "../api/client";
import { limits } from "../api/tables.gen";
import { asMaker, useMaker } from "../maker/maker";
import { useTable } from "../table/TableContext";
import { ChoiceLaid, NumberLaid, TextLaid } from "./Fields";
import { PictureLaid } from "./PictureLaid";
import { StepsLaid } from "./StepsLaid";
import "./TableFields.css";

type Laid = Omit<Extract<Action, { do: "lay-table" }>, "do">;

export function TableFields() {
  const { view, act } = useTable();
  const { settings } = view;
  const lay = (change: Laid) => void act({ do: "lay-table", ...change });
  return (
    <>
      <TextLaid label="name" value={settings.name} onLay={(name) => lay({ name })} />
      <div className="laid-pair">
        <NumberLaid label="wide, mm" value={settings.wide} least={limits.leastTable} most={limits.side} onLay={(wide) => lay({ wide })} />
        <NumberLaid label="high, mm" value={settings.high} least={limits.leastTable} most={limits.side} onLay={(high) => lay({ high })} />
        <NumberLaid label="one turn, °" value={settings.turn || 90} least={1} most={limits.oneTurn} onLay={(turn) => lay({ turn })} />
      </div>
      <PictureLaid label="mat under everything" picture={settings.mat} onLay={(mat) => lay({ mat })} />
      {settings.mat?.full && (
        <Button size="sm" variant="outline-primary" onClick={() => lay({ mat: { small: "", full: "" } })}>
          No mat
        </Button>
      )}
      {settings.host === view.you && (
        <ChoiceLaid
          label="may arrange"
          value={settings.arrange || "host"}
          onLay={(arrange) => lay({ arrange: arrange as "host" })}
          choices={[
            ["host", "the host alone"],
            ["everyone", "everyone at the table"],
          ]}
        />
      )}
      <StepsLaid label="setup" value={settings.setup ?? ""} onLay={(setup) => lay({ setup })} />
      <KeepInKit />
    </>
  );
}

/** Makes the next edition of the kit with the table as it is laid. It is for the kit's maker. */
function KeepInKit() {
  const { seat, source } = useTable();
  const { key } = useMaker();
  const [said, setSaid] = useState<{ text: string; wrong: boolean } | null>(null);
  if (source.alone) return <p className="quiet">What is laid here is written into the kit on the bench.</p>;
  if (!key) return null;
  const keep = async () => {
    const { data, error } = await asMaker.POST("/api/rooms/{room}/keep-table", { params: { path: { room: seat.room } } });
    if (!data) {
      setSaid({ text: error.code === "no-such-room" ? "Only who opened this room keeps its table." : sentence(error), wrong: true });
      return;
    }
    setSaid({
      text: data.fresh
        ? `Kept as edition ${data.edition} of ${data.name}.`
        : `Edition ${data.edition} of ${data.name} has this table already.`,
      wrong: false,
    });
  };
  return (
    <div className="laid-keep">
      <Button size="sm" onClick={() => void keep()}>
        Keep in the kit
      </Button>
      <p className={`steps-mistake ${said?.wrong ? "wrong" : ""}`} role="status">
        {said?.text ?? "Zones, pieces, mat, setup and cues become the kit's next edition; cards stay out of it."}
      </p>
    </div>
  );
}
