import { screen, waitFor, within } from "@testing-library/react";
import { afterEach, expect, it } from "vitest";
import { show, texts } from "../tests/harness";
import { ACCOUNT, SESSION } from "../tests/samples";
import { asked, LOST, nowServe, Refused, serve } from "../tests/server";
import { FilesOnWay } from "./Uploading";
import { addFiles, callOff } from "./uploads";

const names = (from: number, many: number) => Array.from({ length: many }, (_, at) => new File(["x"], `talk${from + at}.txt`));
const sent = () => asked.filter((one) => one.route === "POST /staged");

const WHO = { "GET !/session": SESSION };
const PLACE = `${ACCOUNT.id} 7`;

afterEach(() => callOff(PLACE));

it("each file is seen from the moment it was chosen until it is read, the first few before the rest", async () => {
	const come: (() => void)[] = [];
	serve({ ...WHO, "POST /staged": () => new Promise((answer) => come.push(() => answer([]))) });
	show(<FilesOnWay />);
	addFiles(PLACE, names(1, 40));
	const list = await screen.findByRole("region", { name: "Files on their way" });
	expect(within(list).getByRole("status").textContent).toBe("40 files not read yet");
	// Four, and beside them twenty-four more.
	await waitFor(() => expect(sent()).toHaveLength(2));
	expect(within(list).getAllByText("is being read …")).toHaveLength(28);
	expect(within(list).getAllByText("waits for its turn")).toHaveLength(12);
	come[0]?.();
	await waitFor(() => expect(sent()).toHaveLength(3));
	expect(within(list).getByRole("status").textContent).toBe("36 files not read yet");
	expect(texts(within(list).getAllByRole("listitem"))[0]).toContain("talk5.txt");
});

it("can be stopped: what waits is left out, what is here stays", async () => {
	serve({ ...WHO, "POST /staged": () => new Promise(() => {}) });
	const { user } = show(<FilesOnWay />);
	addFiles(PLACE, names(1, 9));
	await user.click(await screen.findByRole("button", { name: "Stop" }));
	expect(screen.queryByRole("region", { name: "Files on their way" })).toBeNull();
	expect(sent().length).toBeLessThanOrEqual(2);
});

it("one that is refused doesn’t hold back those sent with it, and says why", async () => {
	// The three together, and then the second of them alone.
	let call = 0;
	serve({
		...WHO,
		"POST /staged": () => {
			call += 1;
			return call === 1 || call === 3 ? new Refused("talk2.txt is 200 MB.", 413) : [];
		},
	});
	show(<FilesOnWay />);
	addFiles(PLACE, names(1, 3));
	expect((await screen.findByRole("alert")).textContent).toBe("talk2.txt is 200 MB.");
	await waitFor(() => expect(screen.getByRole("status").textContent).toBe("1 file not read yet"));
	expect(texts(screen.getAllByRole("listitem"))[0]).toContain("talk2.txt");
	expect(sent()).toHaveLength(4);
	expect(screen.getByRole("button", { name: "Leave them out" })).toBeTruthy();
});

it("goes on when somebody says so, after the line was lost", async () => {
	serve({ ...WHO, "POST /staged": LOST });
	const { user } = show(<FilesOnWay />);
	addFiles(PLACE, names(1, 2));
	expect((await screen.findAllByRole("alert"))[0]?.textContent).toContain("The server doesn’t answer");
	nowServe("POST /staged", []);
	await user.click(screen.getByRole("button", { name: "Try again" }));
	await waitFor(() => expect(screen.queryByRole("region", { name: "Files on their way" })).toBeNull());
});

it("what one member chose is seen and sent by nobody else at the same browser", async () => {
	serve({ ...WHO, "GET !/session": { ...SESSION, account: { ...ACCOUNT, id: 88 } }, "POST /staged": [] });
	addFiles(PLACE, names(1, 2));
	show(<FilesOnWay />);
	await waitFor(() => expect(asked.some((one) => one.route === "GET !/session")).toBe(true));
	expect(screen.queryByRole("region", { name: "Files on their way" })).toBeNull();
	expect(sent()).toHaveLength(0);
});
