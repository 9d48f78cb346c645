import { act, fireEvent, render, screen } from "@testing-library/react";
import { Link, MemoryRouter, Route, Routes, useNavigate } from "react-router";
import { expect, it } from "vitest";
import { useAddress } from "../project/address";
import { useScrollsKept } from "./scrolls";

function Frame() {
	useScrollsKept();
	const navigate = useNavigate();
	const [, set] = useAddress();
	return (
		<main>
			<Routes>
				<Route path="/list" element={<Pane key="list" name="list" />} />
				<Route path="/other" element={<Pane key="other" name="list" />} />
				<Route path="/text" element={<Pane key="text" name="text" />} />
			</Routes>
			<Link to="/text">read</Link>
			<button type="button" onClick={() => navigate(-1)}>
				back
			</button>
			<button type="button" onClick={() => set({ open: "3" }, false)}>
				open
			</button>
		</main>
	);
}

function Pane({ name }: { name: string }) {
	return (
		<div
			className="pane"
			data-testid={name}
			ref={(pane) => {
				// jsdom lays nothing out.
				if (!pane) return;
				Object.defineProperty(pane, "scrollHeight", { value: 4000, configurable: true });
				Object.defineProperty(pane, "clientHeight", { value: 500, configurable: true });
				pane.scrollTo = ((to: ScrollToOptions) => {
					pane.scrollTop = to.top ?? 0;
				}) as typeof pane.scrollTo;
			}}
		/>
	);
}

const scroll = (name: string, top: number) => {
	const pane = screen.getByTestId(name);
	pane.scrollTop = top;
	fireEvent.scroll(pane);
};
const press = (name: string) => act(async () => fireEvent.click(screen.getByRole(name === "read" ? "link" : "button", { name })));

it("shows a list where it was when one comes back to it, and a page gone to anew at its top", async () => {
	render(
		<MemoryRouter initialEntries={["/list"]}>
			<Frame />
		</MemoryRouter>,
	);
	scroll("list", 1200);
	await press("read");
	expect(screen.getByTestId("text").scrollTop).toBe(0);
	scroll("text", 300);
	await press("back");
	expect(screen.getByTestId("list").scrollTop).toBe(1200);
});

it("keeps where a list was through what only changes its address", async () => {
	render(
		<MemoryRouter initialEntries={["/other"]}>
			<Frame />
		</MemoryRouter>,
	);
	scroll("list", 900);
	await press("open");
	expect(screen.getByTestId("list").scrollTop).toBe(900);
	await press("read");
	await press("back");
	expect(screen.getByTestId("list").scrollTop).toBe(900);
});
