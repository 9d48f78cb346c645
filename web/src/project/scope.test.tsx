import { render, screen } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import { Link, MemoryRouter, useLocation } from "react-router";
import { expect, it } from "vitest";
import { useAddress } from "./address";
import { useKeptScope, useScope } from "./scope";

function Page() {
	useKeptScope();
	const { pathname, search } = useLocation();
	const { change } = useScope();
	const [, set] = useAddress();
	return (
		<>
			<output>{pathname + search}</output>
			<Link to="/projects/7/code/5?passage=9">passage</Link>
			<Link to="/projects/7/compare">compare</Link>
			<Link to="/projects/8/code">another project</Link>
			<button type="button" onClick={() => change({ cases: null })}>
				everybody
			</button>
			<button type="button" onClick={() => set({ open: "3" })}>
				open
			</button>
		</>
	);
}

it("keeps the scope on the way through a project, until the scope line changes it", async () => {
	const user = userEvent.setup();
	render(
		<MemoryRouter initialEntries={["/projects/7/people?cases=1.2"]}>
			<Page />
		</MemoryRouter>,
	);
	const at = () => decodeURIComponent(screen.getByRole("status").textContent ?? "");
	await user.click(screen.getByRole("link", { name: "passage" }));
	expect(at()).toBe("/projects/7/code/5?passage=9&cases=1.2");
	await user.click(screen.getByRole("button", { name: "open" }));
	expect(at()).toBe("/projects/7/code/5?passage=9&cases=1.2&open=3");
	await user.click(screen.getByRole("link", { name: "compare" }));
	expect(at()).toBe("/projects/7/compare?cases=1.2");
	await user.click(screen.getByRole("link", { name: "another project" }));
	expect(at()).toBe("/projects/8/code");
	await user.click(screen.getByRole("link", { name: "passage" }));
	expect(at()).toBe("/projects/7/code/5?passage=9");
});

it("lets the scope go when it is taken away", async () => {
	const user = userEvent.setup();
	render(
		<MemoryRouter initialEntries={["/projects/7/people?cases=1.2"]}>
			<Page />
		</MemoryRouter>,
	);
	await user.click(screen.getByRole("button", { name: "everybody" }));
	await user.click(screen.getByRole("link", { name: "compare" }));
	expect(screen.getByRole("status").textContent).toBe("/projects/7/compare");
});
