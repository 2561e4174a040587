// Keeping the draft as the next edition of its kit, and what to do with it then.
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import ProgressBar from "react-bootstrap/ProgressBar";
import { useNavigate } from "react-router";
import type { Problem } from "../api/client";
import { asMaker, given, useMaker } from "../maker/maker";
import { ComparisonShown, inShort } from "../shelf/Comparison";
import { OpenRoom } from "../shelf/OpenRoom";
import { plural } from "../parts/plural";
import { useRooms, useShelfChanged, type RoomRow } from "../shelf/shelf";
import { TakeEdition } from "../shelf/TakeEdition";
import { core, unzipped, useDraft, type Origin } from "./draft";
import { showDraftPictures } from "./draftPictures";
import { keepDraft, originOf, type KitPut } from "./keep";
import { forgetDraft } from "./keptDraft";

type Stage =
  { is: "asking" } | { is: "sending"; sent: number; all: number } | { is: "refused"; problem: Problem } | { is: "kept"; put: KitPut };

export function Keep() {
  const { key } = useMaker();
  const { busy, found } = useDraft();
  const [shows, setShows] = useState(false);
  const [opening, setOpening] = useState<KitPut | null>(null);
  const [taking, setTaking] = useState<RoomRow | null>(null);
  const mistakes = found?.mistakes.length ?? 1;
  const why = !key ? "For makers: open the link that you were sent as one" : mistakes > 0 ? "Something is to be mended first" : "";
  return (
    <>
      <Button size="sm" disabled={!!busy || !!why} title={why} onClick={() => setShows(true)}>
        Keep …
      </Button>
      <Modal show={shows} onHide={() => setShows(false)} backdrop="static" size="lg" scrollable aria-labelledby="keep-title" centered>
        {shows && (
          <Keeping
            onClose={() => setShows(false)}
            onTake={(room) => {
              setShows(false);
              setTaking(room);
            }}
            onOpenRoom={(put) => {
              setShows(false);
              setOpening(put);
            }}
          />
        )}
      </Modal>
      <OpenRoom of={opening && { kit: opening.id, name: opening.name, seats: opening.seats }} onClose={() => setOpening(null)} />
      <TakeEdition room={taking} edition={taking?.newest ?? 0} onClose={() => setTaking(null)} />
    </>
  );
}

interface Then {
  onClose: () => void;
  onOpenRoom: (put: KitPut) => void;
  onTake: (room: RoomRow) => void;
}

function Keeping({ onClose, onOpenRoom, onTake }: Then) {
  const { manifest, of } = useDraft();
  const [note, setNote] = useState("");
  const [stage, setStage] = useState<Stage>({ is: "asking" });
  const cancel = useRef<AbortController>(null);
  const navigate = useNavigate();
  const changed = useShelfChanged();
  const keep = async (how: { despite?: boolean; after?: number | undefined }) => {
    const former = useDraft.getState().of;
    const { files } = useDraft.getState();
    cancel.current = new AbortController();
    setStage({ is: "sending", sent: 0, all: 0 });
    const outcome = await keepDraft({
      note,
      despite: how.despite ?? false,
      after: "after" in how ? how.after : former && former.name === manifest.name ? former.edition : undefined,
      onProgress: (sent, all) => setStage({ is: "sending", sent, all }),
      signal: cancel.current.signal,
    });
    if ("problem" in outcome) {
      if (outcome.problem.code === "cancelled") onClose();
      else setStage({ is: "refused", problem: outcome.problem });
      return;
    }
    const { put } = outcome;
    await forgetDraft(former?.kit);
    useDraft.setState((d) => ({ of: originOf(put), kept: files, changed: d.files !== files })); // it may have been worked on meanwhile
    setStage({ is: "kept", put });
    void navigate(`/bench/${put.id}`, { replace: true });
    await changed();
  };
  const title =
    stage.is === "kept" ? "Kept" : of ? `Keep the next edition of ${manifest.name ?? ""}` : `Keep ${manifest.name ?? ""} on your shelf`;
  return (
    <Form
      onSubmit={(e) => {
        e.preventDefault();
        void keep({});
      }}
    >
      <Modal.Header>
        <Modal.Title as="h2" id="keep-title">
          {title}
        </Modal.Title>
      </Modal.Header>
      <Modal.Body>
        {stage.is === "asking" && (
          <>
            <Form.Group controlId="keep-note">
              <Form.Label>What is new in it, if you like</Form.Label>
              <Form.Control value={note} maxLength={400} autoFocus onChange={(e) => setNote(e.target.value)} />
            </Form.Group>
            {of && (
              <div className="keep-against">
                <Against of={of} />
              </div>
            )}
          </>
        )}
        {stage.is === "sending" && (
          <div role="status">
            <p>{stage.sent < stage.all ? `Sending what is new: ${Math.floor((100 * stage.sent) / stage.all)} %` : "Making the cards …"}</p>
            <ProgressBar now={stage.all ? (100 * stage.sent) / stage.all : 100} animated={stage.sent >= stage.all} />
          </div>
        )}
        {stage.is === "refused" && <Refused problem={stage.problem} />}
        {stage.is === "kept" && (
          <>
            <p className="mb-0" role="status">
              {stage.put.fresh
                ? `It is edition ${stage.put.edition} of ${stage.put.name}.`
                : `Nothing has changed since edition ${stage.put.edition} of ${stage.put.name}.`}
            </p>
            <InUse put={stage.put} onTake={onTake} />
          </>
        )}
      </Modal.Body>
      <Modal.Footer>
        {stage.is === "sending" && stage.sent < stage.all && (
          <Button variant="outline-secondary" onClick={() => cancel.current?.abort()}>
            Cancel
          </Button>
        )}
        {stage.is !== "sending" && (
          <Button variant="outline-secondary" onClick={onClose}>
            {stage.is === "kept" ? "Go on here" : "Not now"}
          </Button>
        )}
        {stage.is === "asking" && <Button type="submit">Keep it</Button>}
        {stage.is === "refused" && stage.problem.code === "kit-looks-wrong" && (
          <Button onClick={() => void keep({ despite: true })}>Keep it as it is</Button>
        )}
        {stage.is === "refused" && stage.problem.code === "edition-came-between" && (
          <Button onClick={() => void keep({ despite: true, after: stage.problem.numbers?.newest })}>
            Keep it after edition {stage.problem.numbers?.newest}
          </Button>
        )}
        {stage.is === "refused" && stage.problem.code === "no-answer" && <Button onClick={() => void keep({})}>Try again</Button>}
        {stage.is === "kept" && <Button onClick={() => onOpenRoom(stage.put)}>Open a room</Button>}
      </Modal.Footer>
    </Form>
  );
}

/** What the draft has other than the edition that it goes on from. */
function Against({ of }: { of: Origin }) {
  useEffect(showDraftPictures, []);
  const { data, error } = useQuery({
    queryKey: ["draft against", of.kit, of.edition],
    staleTime: 0,
    gcTime: 0,
    retry: false,
    queryFn: async () => {
      const { kept } = useDraft.getState();
      if (kept) return core().compareWith(kept); // as it was opened
      const params = { path: { kit: of.kit }, query: { edition: of.edition } };
      const zip = given(await asMaker.GET("/api/kits/{kit}/zip", { params, parseAs: "arrayBuffer" })) as unknown as ArrayBuffer;
      return core().compareWith(unzipped(new Uint8Array(zip)));
    },
  });
  if (error)
    return (
      <p className="quiet mb-0">
        What differs from edition {of.edition} cannot be told: {error.message}
      </p>
    );
  if (!data) return <p className="quiet mb-0">Comparing with edition {of.edition} …</p>;
  return (
    <>
      <p className="mb-0">
        Against edition {of.edition}: {inShort(data)}
      </p>
      <ComparisonShown of={data} />
    </>
  );
}

/** The rooms that play with a former edition, each with the way to take this one in. */
function InUse({ put, onTake }: { put: KitPut; onTake: (room: RoomRow) => void }) {
  const rooms = useRooms().data?.filter((r) => r.kit === put.id && r.edition < put.edition && !r.ended) ?? [];
  if (rooms.length === 0) return null;
  return (
    <>
      <p className="mt-3 mb-1">Rooms that play with a former edition:</p>
      <ul className="in-use">
        {rooms.map((r) => (
          <li key={r.id}>
            {r.name}
            {r.people > 0 && `, ${plural(r.people, "person", "people")}`}
            <Button size="sm" variant="outline-primary" onClick={() => onTake(r)}>
              Take it in
            </Button>
          </li>
        ))}
      </ul>
    </>
  );
}

function Refused({ problem }: { problem: Problem }) {
  const details = problem.details ?? [];
  return (
    <Alert variant="warning" role="alert" className="mb-0">
      {details.length > 1 ? `${problem.title}:` : problem.detail}
      {details.length > 1 && (
        <ul className="mb-0">
          {details.slice(0, 8).map((d) => (
            <li key={d}>{d}</li>
          ))}
          {details.length > 8 && <li>and {details.length - 8} more</li>}
        </ul>
      )}
    </Alert>
  );
}
