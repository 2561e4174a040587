// A room's link to be sent: to copy, and as a code for a phone's camera.
import { useState } from "react";
import Button from "react-bootstrap/Button";
import { service } from "../api/service";
import { CopyLine } from "../parts/CopyLine";
import "./RoomLink.css";

export function RoomLink({ room }: { room: { id: string; link: string; only_here?: boolean } }) {
  const [code, setCode] = useState(false);
  return (
    <div className="room-link">
      <CopyLine label="Link to send" text={room.link} />
      {room.only_here && (
        <p className="quiet mb-0">
          Only this machine can open that link. Whoever keeps this service can give it an address that others reach.
        </p>
      )}
      <Button size="sm" variant="link" className="p-0 align-self-start" aria-expanded={code} onClick={() => setCode(!code)}>
        {code ? "Hide the code" : "Show it as a code for phones"}
      </Button>
      {code && <img className="room-code" src={`${service}/api/rooms/${encodeURIComponent(room.id)}/code`} alt="QR code of the link" />}
    </div>
  );
}
