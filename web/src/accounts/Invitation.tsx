import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link, useNavigate, useParams } from "react-router";
import { api, take } from "../api/client";
import { phrase, say } from "../language/say";
import { type Session, useStep } from "../project/session";
import { Button } from "../ui/Button";
import { useRefused } from "../ui/refused";
import { moment } from "../ui/words";
import { Field, Outside, Wrong } from "./Outside";
import { SignIn } from "./SignIn";

const ARTICLE = { owner: say("an owner"), coder: say("a coder"), viewer: say("a viewer") } as const;

/** Whoever has the link comes in, with the account that they have or with a new one. */
export function Invitation({ session }: { session: Session }) {
	const { secret = "" } = useParams();
	const [having, setHaving] = useState(false);
	const shown = useQuery({
		queryKey: ["invitation", secret],
		queryFn: () => take(api.GET("/api/invitations/{secret}", { params: { path: { secret } } })),
		retry: false,
	});
	if (having && !session.account) return <SignIn session={session} />;
	if (shown.error)
		return (
			<Outside called={say("An invitation")} title={say("An invitation")}>
				<Wrong error={shown.error} />
				<Link className="text-spruce hover:underline" to="/">
					{say("To Cohortia")}
				</Link>
			</Outside>
		);
	if (!shown.data) return null;
	const { project, invited_by, role, until } = shown.data;
	return (
		<Outside
			called={say("An invitation")}
			title={phrase("{invited_by} invites you into <b>{project}</b> as {role}, until {until}.", {
				invited_by,
				b: (inner) => <b className="font-semibold text-ink">{inner}</b>,
				project,
				role: ARTICLE[role],
				until: moment(until),
			})}
		>
			<ComeIn secret={secret} as={session.account?.display_name} onHaving={() => setHaving(true)} />
		</Outside>
	);
}

function ComeIn({ secret, as, onHaving }: { secret: string; as?: string; onHaving: () => void }) {
	const navigate = useNavigate();
	const [said, setSaid] = useState({ username: "", display_name: "", password: "" });
	const come = useStep((_: undefined) => take(api.POST("/api/invitations/{secret}", { params: { path: { secret } }, body: said })));
	const refused = useRefused(come.error);
	const set = (name: keyof typeof said) => (value: string) => setSaid({ ...said, [name]: value });
	return (
		<form
			onSubmit={(event) => {
				event.preventDefault();
				come.mutate(undefined, { onSuccess: () => navigate("/") });
			}}
		>
			{!as && (
				<>
					<Field label={say("Your name, as others see it")} autoFocus required value={said.display_name} onChange={set("display_name")} />
					<Field
						label={say("Name to sign in with")}
						autoComplete="username"
						required
						value={said.username}
						onChange={set("username")}
						{...refused.field}
					/>
					<Field
						label={say("Password")}
						hint={say("Ten characters or more")}
						type="password"
						autoComplete="new-password"
						required
						value={said.password}
						onChange={set("password")}
						{...refused.field}
					/>
				</>
			)}
			{refused.said}
			<Button look="main" type="submit" className="w-full justify-center py-2!" disabled={come.isPending}>
				{as ? say("Come in as {as}", { as }) : say("Make the account and come in")}
			</Button>
			{!as && (
				<Button look="plain" className="mt-3" onClick={onHaving}>
					{say("I have an account here")}
				</Button>
			)}
		</form>
	);
}
