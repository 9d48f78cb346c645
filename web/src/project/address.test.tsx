import { act, fireEvent, render, screen } from "@testing-library/react";
import { Link, MemoryRouter, useLocation, useNavigate } from "react-router";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { PROJECT } from "../tests/harness";
import { useAddressed, useAddressedNumber, useSorted, useTyped } from "./address";
import { useGonePlace, usePlace, useRememberPlaces } from "./places";
import { ProjectContext } from "./project";
import { StepPages } from "./StepPages";

function List() {
	const { search } = useLocation();
	const navigate = useNavigate();
	const [words, setWords] = useTyped("words");
	const [order, setOrder] = useSorted<string>("title");
	const [form, setForm] = useAddressed("form", "bars", ["bars", "table"]);
	const [up, setUp] = useAddressedNumber("up", 60);
	return (
		<>
			<output>{search}</output>
			<input aria-label="Words" value={words} onChange={(event) => setWords(event.target.value)} />
			<p>
				{order.by} {order.down ? "down" : "up"} · {form} · {up}
			</p>
			<button type="button" onClick={() => setOrder({ by: "words", down: true })}>
				sort
			</button>
			<button type="button" onClick={() => setForm("table")}>
				table
			</button>
			<button type="button" onClick={() => setUp(up + 60)}>
				more
			</button>
			<Link to="?words=ferry">ferry</Link>
			<button type="button" onClick={() => navigate(-1)}>
				back
			</button>
		</>
	);
}

beforeEach(() => vi.useFakeTimers());
afterEach(() => {
	vi.useRealTimers();
	window.sessionStorage.clear();
});

const at = () => screen.getByRole("status").textContent;
const press = (name: string) => fireEvent.click(screen.getByRole(/ferry/.test(name) ? "link" : "button", { name }));
const rest = () => act(() => vi.advanceTimersByTime(1000));

it("has what is typed in the address when hands rest, and what an address says in the field", () => {
	render(
		<MemoryRouter initialEntries={["/list?words=holm"]}>
			<List />
		</MemoryRouter>,
	);
	const field = screen.getByLabelText<HTMLInputElement>("Words");
	expect(field.value).toBe("holm");
	fireEvent.change(field, { target: { value: "holm da" } });
	fireEvent.change(field, { target: { value: "holm daily" } });
	expect(at()).toBe("?words=holm");
	rest();
	expect(at()).toBe("?words=holm+daily");
	press("ferry");
	expect(field.value).toBe("ferry");
	press("back");
	expect(field.value).toBe("holm daily");
	fireEvent.change(field, { target: { value: "" } });
	rest();
	expect(at()).toBe("");
});

it("doesn’t call back whoever has gone on while the next page is fetched", () => {
	render(
		<MemoryRouter initialEntries={["/list?words=holm"]}>
			<List />
		</MemoryRouter>,
	);
	fireEvent.change(screen.getByLabelText("Words"), { target: { value: "pier" } });
	// A link was followed: the address is another’s, the page still stands until the next is there.
	window.history.pushState(null, "", "/code/36");
	rest();
	expect(at()).toBe("?words=holm");
	window.history.pushState(null, "", "/");
});

it("says in the address only what isn’t usual, and reads nothing else from it", () => {
	render(
		<MemoryRouter initialEntries={["/list?form=cake&up=many"]}>
			<List />
		</MemoryRouter>,
	);
	expect(screen.getByText("title up · bars · 60")).toBeTruthy();
	press("sort");
	press("table");
	press("more");
	expect(at()).toBe("?form=table&up=120&sort=-words");
	expect(screen.getByText("words down · table · 120")).toBeTruthy();
});

function Steps() {
	useRememberPlaces();
	const { pathname, search } = useLocation();
	const place = usePlace(7);
	useGonePlace(pathname.endsWith("/404"));
	return (
		<ProjectContext value={PROJECT}>
			<output>{pathname + search}</output>
			<Link to={place.step("compare")}>Step compare</Link>
			<Link to={place.step("code")}>Step code</Link>
			<StepPages
				name="Pages"
				pages={[
					{ page: "code", label: "Read" },
					{ page: "code/find", label: "Find" },
				]}
			/>
			<Link to="/projects/7/code/find?text=storm">a word</Link>
			<Link to="/projects/7/code/404">gone</Link>
			<Link to="/projects/7/gather/bring-in">files</Link>
		</ProjectContext>
	);
}

it("goes back to a page as it was left: its rows, form and what was open, within today’s scope", () => {
	render(
		<MemoryRouter initialEntries={["/projects/7/compare?codes=3.4&form=gaps&open=1~0&cases=1.2"]}>
			<Steps />
		</MemoryRouter>,
	);
	const link = (name: string) => fireEvent.click(screen.getByRole("link", { name }));
	const current = () => screen.queryAllByRole("link", { current: "page" }).map((one) => one.textContent);
	link("Step code");
	expect(at()).toBe("/projects/7/code");
	expect(current()).toEqual(["Read"]);
	link("a word");
	expect(current()).toEqual(["Find"]);
	link("Step compare");
	expect(at()).toBe("/projects/7/compare?codes=3.4&form=gaps&open=1%7E0");
	// A step comes back at the page it was left at; pressed again, at its first.
	link("Step code");
	expect(at()).toBe("/projects/7/code/find?text=storm");
	link("Step code");
	expect(at()).toBe("/projects/7/code");
	// What isn’t there any more isn’t gone back to.
	link("gone");
	link("Step compare");
	link("Step code");
	expect(at()).not.toContain("404");
});
