import { useQuery } from "@tanstack/react-query";
import { act, screen, waitFor } from "@testing-library/react";
import { beforeEach, describe, expect, it } from "vitest";
import { show } from "../tests/harness";
import { CODEBOOK } from "../tests/samples";
import { calls, LOST, nowServe, Refused, serve } from "../tests/server";
import { hindrance, Problem } from "../ui/Empty";
import { read } from "./reads";
import { useStaleTold } from "./stale";

function Page() {
	useStaleTold();
	const codebook = useQuery({ ...read("codebook", 7), retry: false });
	const hindered = hindrance(codebook);
	if (hindered) return <Problem error={hindered} />;
	if (!codebook.data) return null;
	return (
		<>
			<input aria-label="Typed" />
			<button type="button" onClick={() => void codebook.refetch()}>
				Again
			</button>
		</>
	);
}

/** A page with something typed on it, and its data read once more. */
async function readAgainWith(answer: Parameters<typeof nowServe>[1]) {
	const { user } = show(<Page />);
	await user.type(await screen.findByRole("textbox", { name: "Typed" }), "half a thought");
	nowServe("GET /codebook", answer);
	await user.click(screen.getByRole("button", { name: "Again" }));
	await waitFor(() => expect(calls("GET /codebook")).toHaveLength(2));
	await act(async () => undefined);
}

const typed = () => screen.queryByRole<HTMLInputElement>("textbox", { name: "Typed" })?.value;

describe("a page that is read again in vain", () => {
	beforeEach(() => serve({ "GET /codebook": CODEBOOK }));

	it("stays as it is, with a word that it may not be the latest", async () => {
		await readAgainWith(new Refused("The database restarts.", 503));
		expect((await screen.findByRole("alert")).textContent).toContain("What is shown may not be the latest. The database restarts.");
		expect(typed()).toBe("half a thought");
	});

	it("stays where nothing answers: that is said by the line", async () => {
		await readAgainWith(LOST);
		expect(typed()).toBe("half a thought");
		expect(screen.queryByRole("alert")).toBeNull();
	});

	it("goes where it may no longer be read", async () => {
		await readAgainWith(new Refused("You are no longer in this project.", 403));
		expect((await screen.findByRole("alert")).textContent).toBe("You are no longer in this project.");
		expect(typed()).toBeUndefined();
	});

	it("never showed anything where the first reading failed", async () => {
		nowServe("GET /codebook", new Refused("It stumbled.", 500));
		show(<Page />);
		expect((await screen.findByRole("alert")).textContent).toBe("It stumbled.");
	});
});
