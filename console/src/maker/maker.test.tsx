import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { cleanup, fireEvent, render, renderHook, screen } from "@testing-library/react";
import { MemoryRouter } from "react-router";
import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import { Asking } from "../parts/Asking";
import { MakerMenu } from "./MakerMenu";
import { asMaker, comeIn, given, goOut, keyIn, useBroughtKey, useMaker } from "./maker";

const asked: Request[] = [];

beforeEach(() => {
  asked.length = 0;
  vi.stubGlobal("fetch", (request: Request) => {
    asked.push(request);
    return Promise.resolve(
      new Response(JSON.stringify({ id: "m1", name: "Ada Reed" }), { headers: { "Content-Type": "application/json" } }),
    );
  });
});
afterEach(() => {
  cleanup();
  goOut();
  history.replaceState(null, "", "/");
});

const menu = () =>
  render(
    <QueryClientProvider client={new QueryClient()}>
      <MemoryRouter>
        <MakerMenu />
        <Asking />
      </MemoryRouter>
    </QueryClientProvider>,
  );

describe("a maker's key", () => {
  it("is found in a link, however it is written there", () => {
    expect(keyIn("https://table.example/#maker=abc-1")).toBe("abc-1");
    expect(keyIn("https://table.example/bench#x=1&maker=a%2Bb")).toBe("a+b");
    expect(keyIn("https://table.example/#makers")).toBeNull();
  });

  it("comes with the link, does not stay in the address, and is sent with what is asked", async () => {
    history.replaceState(null, "", "/#maker=abc-1");
    renderHook(useBroughtKey);
    expect(useMaker.getState().key).toBe("abc-1");
    expect(location.hash).toBe("");
    expect(given(await asMaker.GET("/api/maker"))).toMatchObject({ name: "Ada Reed" });
    expect(asked[0]?.headers.get("Authorization")).toBe("Bearer abc-1");
    goOut();
    await asMaker.GET("/api/maker");
    expect(asked[1]?.headers.get("Authorization")).toBeNull();
  });

  it("is asked for before another is forgotten", () => {
    comeIn("mine");
    menu();
    history.replaceState(null, "", "/#maker=theirs");
    renderHook(useBroughtKey);
    expect(useMaker.getState().key).toBe("mine");
    fireEvent.click(screen.getByRole("button", { name: "Come in" }));
    expect(useMaker.getState().key).toBe("theirs");
  });

  it("gives what a call gave, or the sentence that it was refused with", () => {
    expect(given({ data: 3 })).toBe(3);
    expect(() => given({ error: { detail: "There is no such kit." } })).toThrow("There is no such kit.");
    expect(() => given({ error: {} })).toThrow("The service does not answer");
  });
});

describe("the maker's menu", () => {
  it("is not there for who makes nothing", () => {
    menu();
    expect(screen.queryByRole("button")).toBeNull();
  });

  it("says whose it is, shows the link and the key, and lets its maker out once they say so", async () => {
    comeIn("abc-1");
    menu();
    fireEvent.click(await screen.findByRole("button", { name: "Ada Reed" }));
    fireEvent.click(screen.getByText("Show my link and key …"));
    expect(((await screen.findByLabelText("Your link")) as HTMLInputElement).value).toMatch(/\/#maker=abc-1$/);
    expect((screen.getByLabelText("Your key") as HTMLInputElement).value).toBe("abc-1");
    fireEvent.click(screen.getAllByRole("button", { name: "Close" }).at(-1) as HTMLElement);
    fireEvent.click(screen.getByText("Go out …"));
    expect(useMaker.getState().key).toBe("abc-1");
    fireEvent.click(await screen.findByRole("button", { name: "Go out" }));
    expect(useMaker.getState().key).toBe("");
    expect(localStorage.length).toBe(0);
  });
});
