import { render, screen } from "@testing-library/react";
import { act } from "react";
import { expect, it } from "vitest";
import { usePrinting } from "./printing";

function Told() {
	return <p>{usePrinting() ? "for paper" : "for the screen"}</p>;
}

it("a page knows that it is laid out for paper, and when that is over", () => {
	render(<Told />);
	expect(screen.getByText("for the screen")).toBeTruthy();
	act(() => void window.dispatchEvent(new Event("beforeprint")));
	expect(screen.getByText("for paper")).toBeTruthy();
	act(() => void window.dispatchEvent(new Event("afterprint")));
	expect(screen.getByText("for the screen")).toBeTruthy();
});
