import { screen, waitFor } from "@testing-library/react";
import { afterEach, expect, it, vi } from "vitest";
import { useTheirLanguage } from "../project/session";
import { show } from "../tests/harness";
import { SESSION } from "../tests/samples";
import { calls, nowServe, Refused, serve } from "../tests/server";
import { AccountMenu } from "./AccountMenu";

const reload = vi.fn();
function onPage() {
	vi.stubGlobal("location", { ...window.location, href: window.location.href, reload });
}

afterEach(() => {
	vi.unstubAllGlobals();
	reload.mockReset();
});

it("each language is called as it calls itself; the one chosen is kept, and the page asked for in it", async () => {
	onPage();
	serve({ "GET !/session": SESSION, "PUT !/account/language": null });
	const { user } = show(<AccountMenu />);
	await user.click(await screen.findByRole("button", { name: /^Account of/ }));
	expect(screen.getByRole("menuitem", { name: "As this browser has it" }).getAttribute("aria-current")).toBe("true");
	expect(screen.getByRole("menuitem", { name: "English" })).toBeTruthy();
	await user.click(screen.getByRole("menuitem", { name: "Deutsch" }));
	await waitFor(() => expect(reload).toHaveBeenCalledTimes(1));
	expect(calls("PUT !/account/language")).toEqual([{ language: "de" }]);
});

it("what can’t be kept is said, and the page stays", async () => {
	onPage();
	serve({ "GET !/session": SESSION, "PUT !/account/language": new Refused("This language isn’t spoken here.", 400) });
	const { user } = show(<AccountMenu />);
	await user.click(await screen.findByRole("button", { name: /^Account of/ }));
	await user.click(screen.getByRole("menuitem", { name: "Deutsch" }));
	expect(await screen.findByText(/isn’t spoken here/)).toBeTruthy();
	expect(reload).not.toHaveBeenCalled();
});

it("is no choice where one language is spoken", async () => {
	serve({ "GET !/session": { ...SESSION, languages: ["en"] } });
	const { user } = show(<AccountMenu />);
	await user.click(await screen.findByRole("button", { name: /^Account of/ }));
	expect(screen.queryByText("Language")).toBeNull();
});

it("whoever signs in on a page in another language is sent theirs, once", async () => {
	onPage();
	serve({ "GET !/session": { ...SESSION, language: "de" } });
	function Page() {
		useTheirLanguage();
		return null;
	}
	show(<Page />);
	await waitFor(() => expect(reload).toHaveBeenCalledTimes(1));
	// A server that sends the same page again isn’t asked for ever.
	show(<Page />);
	nowServe("GET !/session", { ...SESSION, language: "en" });
	await waitFor(() => expect(calls("GET !/session").length).toBeGreaterThan(1));
	expect(reload).toHaveBeenCalledTimes(1);
});
