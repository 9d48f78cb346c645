import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, describe, expect, it, vi } from "vitest";
import { App } from "../shell/App";
import { Members } from "../shell/Members";
import { show } from "../tests/harness";
import { ACCOUNT, SESSION } from "../tests/samples";
import { calls, nowServe, Refused, serve } from "../tests/server";
import { deviceOf } from "./AccountPage";
import { asked, toText } from "./passkeys";

const OUT = { ...SESSION, account: null, mail: true };
const AT = "2026-11-28T10:00:00Z";
const OWN = {
	email: "rana@skerrow.example",
	may_begin: true,
	totp: false,
	codes_left: null,
	passkeys: [],
	sessions: [
		{ id: 1, ip: "127.0.0.1", agent: "Mozilla/5.0 (X11; Linux x86_64) Chrome/140", created_at: AT, last_seen_at: AT, here: true },
		{ id: 2, ip: "203.0.113.9", agent: "Mozilla/5.0 (iPhone) Safari/600", created_at: AT, last_seen_at: AT, here: false },
	],
};

beforeEach(() => serve({ "GET !/session": OUT, "GET !/projects": [], "GET !/account": OWN }));

describe("the second step", () => {
	it("follows the password, and says what is wrong with a code", async () => {
		const { user } = show(<App />, { at: "/" });
		nowServe("POST !/session", { ...OUT, second: ["code", "recovery"] });
		await user.type(await screen.findByLabelText("Name"), "rana");
		await user.type(screen.getByLabelText("Password"), "right{Enter}");
		nowServe("POST !/session/second", new Refused("This code isn’t right.", 400));
		await user.type(await screen.findByLabelText(/^Code of the app/), "000 000{Enter}");
		expect((await screen.findByRole("alert")).textContent).toBe("This code isn’t right.");
		nowServe("POST !/session/second", SESSION);
		await user.click(screen.getByRole("button", { name: "Sign in" }));
		expect(await screen.findByRole("heading", { name: "Your projects" })).toBeTruthy();
		expect(calls("POST !/session/second")).toEqual([{ code: "000 000" }, { code: "000 000" }]);
	});

	it("can be left", async () => {
		serve({ "GET !/session": { ...OUT, second: ["recovery"] }, "DELETE !/session": {} });
		const { user } = show(<App />, { at: "/" });
		expect(await screen.findByLabelText("One of your kept codes")).toBeTruthy();
		await user.click(screen.getByRole("button", { name: "Begin again" }));
		expect(await screen.findByLabelText("Password")).toBeTruthy();
	});
});

describe("a forgotten password", () => {
	it("is asked for, and nobody is told whether the name is known", async () => {
		nowServe("POST !/password/forgotten", {});
		const { user } = show(<App />, { at: "/" });
		await user.click(await screen.findByRole("link", { name: "Password forgotten?" }));
		await user.type(screen.getByLabelText("Name, or mail address"), "rana{Enter}");
		expect((await screen.findByRole("status")).textContent).toContain("If somebody signs in as “rana”");
		expect(calls("POST !/password/forgotten")).toEqual([{ name: "rana" }]);
	});

	it("can’t be sent where no mail is", async () => {
		serve({ "GET !/session": { ...OUT, mail: false } });
		show(<App />, { at: "/forgotten" });
		expect(await screen.findByText(/No mail is sent from here/)).toBeTruthy();
	});

	it("is made anew by the link", async () => {
		nowServe("POST !/password/new", new Refused("This link is over."));
		const { user } = show(<App />, { at: "/new-password/MQ/abc-def" });
		await user.type(await screen.findByLabelText(/^New password/), "a long enough phrase{Enter}");
		expect((await screen.findByRole("alert")).textContent).toBe("This link is over.");
		nowServe("POST !/password/new", {});
		await user.click(screen.getByRole("button", { name: "Keep it" }));
		expect(await screen.findByText("Your password is new. Sign in with it.")).toBeTruthy();
		expect(calls("POST !/password/new").at(-1)).toEqual({ key: "MQ", token: "abc-def", password: "a long enough phrase" });
	});
});

describe("an invitation", () => {
	const SHOWN = { project: "Ferry", invited_by: "Mika Kell", role: "viewer", email: "", until: AT };

	it("is taken with a new account", async () => {
		serve({ "GET !/session": OUT, "GET !/projects": [], "GET !/invitations/s": SHOWN, "POST !/invitations/s": SESSION });
		const { user } = show(<App />, { at: "/invitation/s" });
		expect((await screen.findByRole("heading", { name: /Mika Kell invites you into Ferry as a viewer/ })).textContent).toBeTruthy();
		await user.type(screen.getByLabelText("Your name, as others see it"), "New Comer");
		await user.type(screen.getByLabelText("Name to sign in with"), "newcomer");
		await user.type(screen.getByLabelText(/^Password/), "a long enough phrase{Enter}");
		expect(await screen.findByRole("heading", { name: "Your projects" })).toBeTruthy();
		expect(calls("POST !/invitations/s")).toEqual([{ username: "newcomer", display_name: "New Comer", password: "a long enough phrase" }]);
	});

	it("is taken with the account that is there, or says that it is over", async () => {
		serve({
			"GET !/session": SESSION,
			"GET !/projects": [],
			"GET !/invitations/s": SHOWN,
			"POST !/invitations/s": new Refused("This invitation was used meanwhile.", 404),
		});
		const { user } = show(<App />, { at: "/invitation/s" });
		await user.click(await screen.findByRole("button", { name: `Come in as ${ACCOUNT.display_name}` }));
		expect((await screen.findByRole("alert")).textContent).toBe("This invitation was used meanwhile.");
	});

	it("is made by an owner, shown once, and withdrawn", async () => {
		const one = { id: 4, email: "new@skerrow.example", role: "coder", invited_by: "Rana", until: AT, link: "" };
		serve({
			"GET !/session": { ...SESSION, mail: true },
			"GET /members": [],
			"GET /invitations": [one],
			"POST /invitations": { ...one, link: "https://cohortia.example/invitation/secret" },
			"DELETE /invitations/4": {},
		});
		const { user } = show(<Members />, { project: { role: "owner" } });
		await user.type(await screen.findByLabelText("Mail address"), "new@skerrow.example");
		await user.click(screen.getByRole("button", { name: "Send the invitation" }));
		expect(await screen.findByText("https://cohortia.example/invitation/secret")).toBeTruthy();
		expect(calls("POST /invitations")).toEqual([{ email: "new@skerrow.example", role: "coder" }]);
		const list = await screen.findByRole("list", { name: "Invitations that wait" });
		await user.click(within(list).getByRole("button", { name: /^Withdraw/ }));
		await waitFor(() => expect(calls("DELETE /invitations/4").length).toBe(1));
	});
});

describe("one’s own account", () => {
	beforeEach(() => serve({ "GET !/session": SESSION, "GET !/account": OWN, "GET !/projects": [] }));

	it("changes the password, and says why it can’t", async () => {
		nowServe("PUT !/password", new Refused("The current password isn’t right."));
		const { user } = show(<App />, { at: "/account" });
		await user.type(await screen.findByLabelText("Current password"), "wrong");
		await user.type(screen.getByLabelText(/^New password/), "a long enough one");
		await user.click(screen.getByRole("button", { name: "Change it" }));
		expect((await screen.findByRole("alert")).textContent).toBe("The current password isn’t right.");
		nowServe("PUT !/password", {});
		await user.click(screen.getByRole("button", { name: "Change it" }));
		expect(await screen.findByText(/^Your password is changed/)).toBeTruthy();
		expect(calls("PUT !/password").at(-1)).toEqual({ current: "wrong", new: "a long enough one" });
	});

	it("sets up an app and shows the codes to be kept once", async () => {
		nowServe("POST !/account/totp", { secret: "ABCDEFGH", address: "otpauth://totp/rana", picture: "<svg/>" });
		nowServe("PUT !/account/totp", { codes: ["1111111111", "2222222222"] });
		const { user } = show(<App />, { at: "/account" });
		await user.click(await screen.findByRole("button", { name: "Set up" }));
		await user.type(await screen.findByLabelText("Your password", { selector: "[role=dialog] input" }), "right{Enter}");
		expect(await screen.findByText("ABCD EFGH")).toBeTruthy();
		await user.type(screen.getByLabelText("Code of the app"), "123456{Enter}");
		const codes = await screen.findByRole("list", { name: "Codes" });
		expect(within(codes).getAllByRole("listitem").length).toBe(2);
		await user.click(screen.getByRole("button", { name: "I have kept them" }));
		await waitFor(() => expect(screen.queryByRole("list", { name: "Codes" })).toBeNull());
	});

	it("signs out elsewhere", async () => {
		serve({ "GET !/session": SESSION, "GET !/account": OWN, "DELETE !/account/sessions/2": {}, "POST !/account/sessions/others": {} });
		const { user } = show(<App />, { at: "/account" });
		await user.click(await screen.findByRole("button", { name: "Sign out Safari on iPhone" }));
		await waitFor(() => expect(calls("DELETE !/account/sessions/2").length).toBe(1));
		await user.click(screen.getByRole("button", { name: "Sign out everywhere else" }));
		await waitFor(() => expect(calls("POST !/account/sessions/others").length).toBe(1));
	});
});

it("tells devices apart as far as they say what they are", () => {
	expect(deviceOf("Mozilla/5.0 (Windows NT 10.0) Chrome/140 Safari/537 Edg/140")).toBe("Edge on Windows");
	expect(deviceOf("")).toBe("a program that doesn’t say what it is");
	vi.unstubAllGlobals();
});

it("gives the browser bytes where the server says text, and back", () => {
	const options = asked({
		challenge: "-_8",
		user: { id: "AQI", name: "id" },
		allowCredentials: [{ id: "AQID", type: "public-key" }],
		rp: { id: "localhost" },
	});
	expect(options.challenge).toEqual(Uint8Array.from([251, 255]));
	expect(options.user).toEqual({ id: Uint8Array.from([1, 2]), name: "id" });
	expect(options.allowCredentials).toEqual([{ id: Uint8Array.from([1, 2, 3]), type: "public-key" }]);
	expect(options.rp).toEqual({ id: "localhost" });
	expect(toText(Uint8Array.from([251, 255]).buffer)).toBe("-_8");
});
