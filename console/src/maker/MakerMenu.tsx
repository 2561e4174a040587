// Whose shelf this is, the way to show one's own link, and the way out.
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import Button from "react-bootstrap/Button";
import Dropdown from "react-bootstrap/Dropdown";
import Modal from "react-bootstrap/Modal";
import { Link } from "react-router";
import { service } from "../api/service";
import { askFor } from "../parts/Asking";
import { CopyLine } from "../parts/CopyLine";
import { asMaker, given, goOut, useMaker } from "./maker";

export function useMakerName(): string {
  const { key } = useMaker();
  const { data } = useQuery({
    queryKey: ["maker", key],
    enabled: key !== "",
    staleTime: 60_000,
    queryFn: async () => given(await asMaker.GET("/api/maker")),
  });
  return data?.name ?? "";
}

export function MakerMenu() {
  const { key } = useMaker();
  const name = useMakerName();
  const [shows, setShows] = useState(false);
  if (!key) return null;
  const leave = () =>
    askFor(
      {
        question: "Go out?",
        detail: "This browser forgets whose shelf it shows. To come in again you need the link by which you came; you can copy it before.",
        yes: "Go out",
      },
      goOut,
    );
  return (
    <>
      <Dropdown align="end">
        <Dropdown.Toggle size="sm" variant="outline-secondary" id="maker-menu">
          {name || "Maker"}
        </Dropdown.Toggle>
        <Dropdown.Menu renderOnMount popperConfig={{ strategy: "fixed" }}>
          <Dropdown.Item as={Link} to="/">
            The shelf
          </Dropdown.Item>
          <Dropdown.Item as={Link} to="/bench">
            The bench
          </Dropdown.Item>
          <Dropdown.Divider />
          <Dropdown.Item as="button" onClick={() => setShows(true)}>
            Show my link and key …
          </Dropdown.Item>
          <Dropdown.Item as="button" onClick={leave}>
            Go out …
          </Dropdown.Item>
        </Dropdown.Menu>
      </Dropdown>
      <Modal show={shows} onHide={() => setShows(false)} aria-labelledby="my-link" centered>
        <Modal.Header closeButton>
          <Modal.Title as="h2" id="my-link">
            Yours alone
          </Modal.Title>
        </Modal.Header>
        <Modal.Body>
          <p>Whoever opens this link is you here: on another device of yours, and nowhere else.</p>
          <CopyLine label="Your link" text={`${service}/#maker=${encodeURIComponent(key)}`} />
          <p className="mt-3">Programs of yours show this key:</p>
          <CopyLine label="Your key" text={key} />
        </Modal.Body>
        <Modal.Footer>
          <Button variant="outline-secondary" onClick={() => setShows(false)}>
            Close
          </Button>
        </Modal.Footer>
      </Modal>
    </>
  );
}
