import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { api, take } from "../api/client";
import { say } from "../language/say";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";
import { useRefused } from "../ui/refused";

/** Closing one's own account, with what becomes of its work. */
export function CloseAccount({ onClose }: { onClose: () => void }) {
	const [password, setPassword] = useState("");
	const close = useMutation({
		mutationFn: () => take(api.POST("/api/account/close", { body: { password } })),
		// Everything that was loaded was loaded for this account.
		onSuccess: () => window.location.assign("/"),
	});
	const refused = useRefused(close.error);
	return (
		<Modal title={say("Close my account")} onClose={onClose}>
			<form
				className="space-y-3"
				onSubmit={(event) => {
					event.preventDefault();
					close.mutate();
				}}
			>
				<p>
					{say(
						"You leave all projects. What you coded and wrote stays in them, under “A former member”; your name, your password and files of yours that wait go for good. Projects of which you are the only owner want another one first.",
					)}
				</p>
				<label className="block font-semibold">
					{say("Your password")}
					<input
						type="password"
						autoComplete="current-password"
						required
						className="field mt-1 w-full font-normal"
						value={password}
						{...refused.field}
						onChange={(event) => setPassword(event.target.value)}
					/>
				</label>
				{refused.said}
				<Button look="danger" type="submit" disabled={close.isPending}>
					{say("Close it for good")}
				</Button>
			</form>
		</Modal>
	);
}
