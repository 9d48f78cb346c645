import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, take } from "../api/client";
import { say } from "../language/say";
import { useSession } from "../project/session";
import { Button } from "../ui/Button";
import { hindrance, Loading, Problem } from "../ui/Empty";
import { Mark } from "../ui/Mark";
import { useRefused } from "../ui/refused";
import { useTitle } from "../ui/title";
import { useToasts } from "../ui/toasts";
import { moment } from "../ui/words";
import { AccountMenu } from "./AccountMenu";
import { CloseAccount } from "./CloseAccount";
import { Factors } from "./Factors";
import { Field, Wrong } from "./Outside";
import { type Own, Part, useOwn } from "./own";

/** What is one's own of Cohortia: password, address, second factors, where one is signed in. */
export function AccountPage() {
	const account = useSession().data?.account;
	const own = useQuery({ queryKey: ["account"], queryFn: () => take(api.GET("/api/account")) });
	const [closing, setClosing] = useState(false);
	useTitle(say("Your account"));
	const hindered = hindrance(own);
	if (hindered) return <Problem error={hindered} />;
	if (!own.data || !account) return <Loading what={say("your account")} />;
	return (
		<>
			<header className="flex h-13 items-center gap-2.5 border-b border-line bg-card px-4.5">
				<Link to="/" className="flex items-center gap-2.5" aria-label={say("All projects")}>
					<Mark />
					<span className="font-serif text-lg font-semibold">{say("Cohortia")}</span>
				</Link>
				<span className="ml-auto" />
				<AccountMenu />
			</header>
			<main className="mx-auto max-w-2xl p-8">
				<h1 className="mb-1">{account.display_name}</h1>
				<p className="quiet-line">{say("You sign in as {username}.", { username: account.username })}</p>
				<Password />
				<Address email={own.data.email} />
				<Factors own={own.data} />
				<SignedIn sessions={own.data.sessions} />
				<Part title={say("Close my account")}>
					<p className="mb-2 text-[13.4px]">{say("Your work stays in the projects, under a neutral name; your name goes.")}</p>
					<Button look="danger" onClick={() => setClosing(true)}>
						{say("Close my account")}
					</Button>
				</Part>
			</main>
			{closing && <CloseAccount onClose={() => setClosing(false)} />}
		</>
	);
}

function Password() {
	const { tell } = useToasts();
	const [said, setSaid] = useState({ current: "", new: "" });
	const change = useOwn(
		(_: undefined) => take(api.PUT("/api/password", { body: said })),
		() => {
			setSaid({ current: "", new: "" });
			tell(say("Your password is changed. Elsewhere you aren’t signed in any more."));
		},
	);
	const refused = useRefused(change.error);
	return (
		<Part title={say("Password")}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					change.mutate(undefined);
				}}
			>
				<div className="grid cols-[minmax(0,1fr)_minmax(0,1fr)] gap-3 text-[13px]">
					<Field
						label={say("Current password")}
						type="password"
						autoComplete="current-password"
						required
						value={said.current}
						onChange={(current) => setSaid({ ...said, current })}
						{...refused.field}
					/>
					<Field
						label={say("New password")}
						hint={say("Ten characters or more")}
						type="password"
						autoComplete="new-password"
						required
						value={said.new}
						onChange={(next) => setSaid({ ...said, new: next })}
						{...refused.field}
					/>
				</div>
				{refused.said}
				<Button type="submit" disabled={change.isPending}>
					{say("Change it")}
				</Button>
			</form>
		</Part>
	);
}

function Address({ email }: { email: string }) {
	const { tell } = useToasts();
	const [said, setSaid] = useState({ email, password: "" });
	const change = useOwn(
		(_: undefined) => take(api.PATCH("/api/account", { body: said })),
		() => {
			setSaid({ ...said, password: "" });
			tell(said.email ? say("Your address is kept.") : say("No address is kept any more."));
		},
	);
	const refused = useRefused(change.error);
	return (
		<Part title={say("Mail address")}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					change.mutate(undefined);
				}}
			>
				<p className="mb-2 quiet-line">{say("Where a link goes when the password is forgotten. Other members don’t see it.")}</p>
				<div className="grid cols-[minmax(0,1fr)_minmax(0,1fr)] gap-3 text-[13px]">
					<Field
						label={say("Address")}
						type="email"
						autoComplete="email"
						value={said.email}
						onChange={(next) => setSaid({ ...said, email: next })}
						{...refused.field}
					/>
					<Field
						label={say("Your password")}
						type="password"
						autoComplete="current-password"
						required
						value={said.password}
						onChange={(password) => setSaid({ ...said, password })}
						{...refused.field}
					/>
				</div>
				{refused.said}
				<Button type="submit" disabled={change.isPending || said.email === email}>
					{say("Keep it")}
				</Button>
			</form>
		</Part>
	);
}

const PROGRAMS = ["Firefox", "Edg", "Chrome", "Safari"];
const SYSTEMS = ["Windows", "Android", "iPhone", "iPad", "Mac OS", "Linux"];

/** A browser and a system, as far as they say what they are. */
export function deviceOf(agent: string): string {
	const program = PROGRAMS.find((one) => agent.includes(one));
	const system = SYSTEMS.find((one) => agent.includes(one));
	if (!program && !system) return say("a program that doesn’t say what it is");
	return [program === "Edg" ? "Edge" : program, system && say("on {system}", { system })].filter(Boolean).join(" ");
}

function SignedIn({ sessions }: { sessions: Own["sessions"] }) {
	const end = useOwn((session_id: number) => take(api.DELETE("/api/account/sessions/{session_id}", { params: { path: { session_id } } })));
	const others = useOwn((_: undefined) => take(api.POST("/api/account/sessions/others")));
	return (
		<Part title={say("Where you are signed in")}>
			<ul className="text-[13.4px]">
				{sessions.map((one) => (
					<li key={one.id} className="flex items-center gap-3 border-b border-line2 py-1.5 last:border-0">
						<span>
							{deviceOf(one.agent)} <span className="quiet-line">{say("from {ip}", { ip: one.ip })}</span>
							<span className="block quiet-line">
								{one.here
									? say("here, since {created_at}", { created_at: moment(one.created_at) })
									: say("seen {last_seen_at}, since {created_at}", {
											last_seen_at: moment(one.last_seen_at),
											created_at: moment(one.created_at),
										})}
							</span>
						</span>
						{!one.here && (
							<Button
								look="danger"
								className="ml-auto"
								aria-label={say("Sign out {deviceOf}", { deviceOf: deviceOf(one.agent) })}
								onClick={() => end.mutate(one.id)}
							>
								{say("Sign out there")}
							</Button>
						)}
					</li>
				))}
			</ul>
			{sessions.length > 1 && (
				<Button className="mt-2" onClick={() => others.mutate(undefined)}>
					{say("Sign out everywhere else")}
				</Button>
			)}
			<Wrong error={end.error ?? others.error} />
		</Part>
	);
}
