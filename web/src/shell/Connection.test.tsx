import { useQuery } from "@tanstack/react-query";
import { act, screen, waitFor } from "@testing-library/react";
import { afterEach, beforeEach, expect, it, vi } from "vitest";
import { api, take } from "../api/client";
import { show } from "../tests/harness";
import { LOST, nowServe, serve, withHeaders } from "../tests/server";
import { Connection } from "./Connection";

const STATUS = "GET /status";

function Asking() {
	const read = useQuery({
		queryKey: ["status"],
		queryFn: () => take(api.GET("/api/projects/{project_id}/status", { params: { path: { project_id: 7 } } })),
	});
	return (
		<>
			<Connection />
			<p>{read.data ? `${read.data.documents} documents` : "nothing yet"}</p>
			<button type="button" onClick={() => void read.refetch()}>
				Again
			</button>
		</>
	);
}

beforeEach(() => vi.useFakeTimers({ shouldAdvanceTime: true, toFake: ["setTimeout", "clearTimeout", "setInterval", "clearInterval"] }));
afterEach(() => void vi.useRealTimers());

it("is told when nothing answers, and what was asked for comes by itself when something does", async () => {
	serve({ [STATUS]: LOST, "GET !/health": LOST });
	show(<Asking />);
	const told = await screen.findByRole("status");
	expect(told.textContent).toBe(
		"The server doesn’t answer. What is on the screen stays; what else is asked for comes as soon as it does. Nothing needs to be pressed.",
	);
	await act(() => vi.advanceTimersByTimeAsync(3000));
	expect(screen.getByRole("status")).toBeTruthy();
	nowServe("GET !/health", { ok: true });
	nowServe(STATUS, { documents: 91 });
	await act(() => vi.advanceTimersByTimeAsync(3000));
	expect(await screen.findByText("91 documents")).toBeTruthy();
	expect(screen.queryByRole("status")).toBeNull();
});

it("is told when the server lets wait, until it answers", async () => {
	let answer = (_: unknown) => {};
	serve({ [STATUS]: () => new Promise((come) => (answer = come)) });
	show(<Asking />);
	await act(() => vi.advanceTimersByTimeAsync(4900));
	expect(screen.queryByRole("status")).toBeNull();
	await act(() => vi.advanceTimersByTimeAsync(200));
	expect(screen.getByRole("status").textContent).toBe("The server takes its time. What was asked for comes as soon as it is there.");
	answer({ documents: 3 });
	expect(await screen.findByText("3 documents")).toBeTruthy();
	await waitFor(() => expect(screen.queryByRole("status")).toBeNull());
});

it("is told at once when the machine says that it is offline", async () => {
	serve({ [STATUS]: { documents: 1 }, "GET !/health": { ok: true } });
	show(<Asking />);
	expect(await screen.findByText("1 documents")).toBeTruthy();
	act(() => void window.dispatchEvent(new Event("offline")));
	expect(screen.getByRole("status").textContent).toContain("The server doesn’t answer.");
	act(() => void window.dispatchEvent(new Event("online")));
	await waitFor(() => expect(screen.queryByRole("status")).toBeNull());
});

it("tells in time that a session ends, and lets one stay", async () => {
	serve({ [STATUS]: withHeaders({ documents: 91 }, { "X-Session-Ends": "590" }), "GET !/projects": [] });
	const { user } = show(<Asking />);
	expect((await screen.findByRole("alert")).textContent).toBe(
		"Nothing was done here for a long time: you will be signed out in 10 minutes.Stay signed in",
	);
	await act(() => vi.advanceTimersByTimeAsync(0));
	await user.click(screen.getByRole("button", { name: "Stay signed in" }));
	await waitFor(() => expect(screen.queryByRole("alert")).toBeNull());
});
