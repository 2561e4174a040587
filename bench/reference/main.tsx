// React and React-Bootstrap alone: what the first load of the console is measured
// against. It is built by the bench and is no part of the program.
import { createRoot } from "react-dom/client";
import Alert from "react-bootstrap/Alert";
import Button from "react-bootstrap/Button";
import Form from "react-bootstrap/Form";
import Modal from "react-bootstrap/Modal";
import Spinner from "react-bootstrap/Spinner";
import "bootstrap/dist/css/bootstrap.min.css";

const root = document.getElementById("root");
if (root) {
  createRoot(root).render(
    <Form>
      <Alert>Hello</Alert>
      <Form.Control />
      <Button><Spinner /> Go</Button>
      <Modal show><Modal.Body>Hello</Modal.Body></Modal>
    </Form>,
  );
}
