import { screen, waitFor } from "@testing-library/react";
import { describe, expect, it, vi } from "vitest";
import { show } from "../tests/harness";
import { calls, nowServe, Refused, serve } from "../tests/server";
import { CloseAccount } from "./CloseAccount";

describe("closing an account", () => {
	it("wants the password, says why not, and begins anew when it is closed", async () => {
		const assign = vi.fn();
		vi.stubGlobal("location", { ...window.location, assign });
		serve({ "POST !/account/close": new Refused("You are the only owner of “Ferry”.") });
		const { user } = show(<CloseAccount onClose={() => {}} />);
		expect((await screen.findByRole("dialog")).textContent).toContain("under “A former member”");
		await user.type(screen.getByLabelText("Your password"), "secret words{Enter}");
		expect((await screen.findByRole("alert")).textContent).toBe("You are the only owner of “Ferry”.");
		expect(assign).not.toHaveBeenCalled();
		nowServe("POST !/account/close", {});
		await user.click(screen.getByRole("button", { name: "Close it for good" }));
		await waitFor(() => expect(assign).toHaveBeenCalledWith("/"));
		expect(calls("POST !/account/close")).toEqual([{ password: "secret words" }, { password: "secret words" }]);
		vi.unstubAllGlobals();
	});
});
