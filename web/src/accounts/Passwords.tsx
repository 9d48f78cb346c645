import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, take } from "../api/client";
import { say } from "../language/say";
import type { Session } from "../project/session";
import { Button } from "../ui/Button";
import { useRefused } from "../ui/refused";
import { useToasts } from "../ui/toasts";
import { Field, Outside } from "./Outside";

const BACK = "mt-4 block text-[13px] text-spruce hover:underline";

/** A link for a new password is asked for; nobody is told whether the name is known. */
export function Forgotten({ session }: { session: Session }) {
	const [name, setName] = useState("");
	const ask = useMutation({ mutationFn: () => take(api.POST("/api/password/forgotten", { body: { name } })) });
	const refused = useRefused(ask.error);
	return (
		<Outside called={say("A new password")} title={say("A new password")}>
			{!session.mail ? (
				<p>{say("No mail is sent from here. Ask an owner of your project, or whoever looks after the server, for a new password.")}</p>
			) : ask.isSuccess ? (
				<p role="status">
					{say(
						"If somebody signs in as “{name}” or has this address, a link is on its way to the address kept for them. It can be used once, within a day.",
						{ name },
					)}
				</p>
			) : (
				<form
					onSubmit={(event) => {
						event.preventDefault();
						ask.mutate();
					}}
				>
					<Field
						label={say("Name, or mail address")}
						autoFocus
						autoComplete="username"
						required
						value={name}
						onChange={setName}
						{...refused.field}
					/>
					{refused.said}
					<Button look="main" type="submit" className="w-full justify-center py-2!" disabled={ask.isPending}>
						{say("Send me a link")}
					</Button>
				</form>
			)}
			<Link className={BACK} to="/">
				{say("Back to signing in")}
			</Link>
			{session.mailbox && (
				<Link className={BACK} to="/mailbox">
					{say("The demo’s mailbox")}
				</Link>
			)}
		</Outside>
	);
}

/** The new password, by the link that was sent. */
export function NewPassword() {
	const { key = "", token = "" } = useParams();
	const navigate = useNavigate();
	const { tell } = useToasts();
	const [password, setPassword] = useState("");
	const renew = useMutation({
		mutationFn: () => take(api.POST("/api/password/new", { body: { key, token, password } })),
		onSuccess: () => {
			tell(say("Your password is new. Sign in with it."));
			navigate("/");
		},
	});
	const refused = useRefused(renew.error);
	return (
		<Outside
			called={say("Choose a new password")}
			title={say("Choose a new password. Wherever you are signed in, you aren’t any more afterwards.")}
		>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					renew.mutate();
				}}
			>
				<Field
					label={say("New password")}
					hint={say("Ten characters or more")}
					type="password"
					autoFocus
					autoComplete="new-password"
					required
					value={password}
					onChange={setPassword}
					{...refused.field}
				/>
				{refused.said}
				<Button look="main" type="submit" className="w-full justify-center py-2!" disabled={renew.isPending}>
					{say("Keep it")}
				</Button>
			</form>
			<Link className={BACK} to="/forgotten">
				{say("Ask for another link")}
			</Link>
		</Outside>
	);
}
