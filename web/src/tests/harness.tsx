import { QueryClient, QueryClientProvider } from "@tanstack/react-query";
import { render } from "@testing-library/react";
import userEvent from "@testing-library/user-event";
import type { ReactNode } from "react";
import { MemoryRouter, Route, Routes, useLocation } from "react-router";
import { Codings } from "../coding/desk/putting";
import { Uploads } from "../gather/Uploading";
import { KeysOver } from "../help/Keys";
import { type Project, ProjectContext } from "../project/project";
import { Toasts } from "../ui/toasts";

export const PROJECT = {
	id: 7,
	name: "Ferry",
	case_one: "person",
	case_many: "people",
	role: "owner",
	hide_below: 0,
	round_to: 0,
	trail_days: 0,
} as Project;

let here = "";
/** The address that the page has come to, with its search. */
export function address(): string {
	return here;
}

function Address() {
	const { pathname, search } = useLocation();
	here = pathname + search;
	return null;
}

/** Show something inside a project, as the application does, and drive it as a user would. */
export function show(what: ReactNode, { at = "/projects/7/here", path = "*", project = {} as Partial<Project> } = {}) {
	const client = new QueryClient({ defaultOptions: { queries: { retry: false }, mutations: { networkMode: "always" } } });
	const user = userEvent.setup();
	const screen = render(
		<QueryClientProvider client={client}>
			<Toasts>
				<ProjectContext value={{ ...PROJECT, ...project }}>
					<MemoryRouter initialEntries={[at]}>
						<Address />
						<Codings />
						<Uploads />
						<KeysOver>
							<Routes>
								<Route path={path} element={what} />
								<Route path="*" element={null} />
							</Routes>
						</KeysOver>
					</MemoryRouter>
				</ProjectContext>
			</Toasts>
		</QueryClientProvider>,
	);
	return { ...screen, user };
}

/** Every text of the elements found, tidied. */
export function texts(elements: Iterable<Element>): string[] {
	return [...elements].map((element) => (element.textContent ?? "").replace(/\s+/g, " ").trim());
}
