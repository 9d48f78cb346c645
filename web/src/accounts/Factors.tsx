import { KeyRound, Smartphone } from "lucide-react";
import { useState } from "react";
import { api, type Shape, take } from "../api/client";
import { say } from "../language/say";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";
import { useRefused } from "../ui/refused";
import { moment } from "../ui/words";
import { Field } from "./Outside";
import { type Own, Part, useOwn } from "./own";
import { canHavePasskeys, makePasskey, saidOf } from "./passkeys";

type Doing = "app" | "app off" | "codes" | "passkey" | null;

/** What is asked for besides the password: an app's codes, passkeys, codes kept for when both are lost. */
export function Factors({ own }: { own: Own }) {
	const [doing, setDoing] = useState<Doing>(null);
	const [codes, setCodes] = useState<string[]>([]);
	const [removing, setRemoving] = useState<Own["passkeys"][number] | null>(null);
	const done = (made: string[]) => {
		setDoing(null);
		setCodes(made);
	};
	const close = () => setDoing(null);
	return (
		<Part title={say("Second step")}>
			<p className="mb-2 quiet-line">{say("Asked for besides the password, so that a password that somebody has seen isn’t enough.")}</p>
			<div className="flex items-center gap-2 border-b border-line2 py-2 text-[13.4px]">
				<Smartphone size={16} className="text-quiet" />
				<span>
					{say("An app that shows codes: ")}
					{own.totp ? <b className="font-semibold">{say("asked for")}</b> : say("not set up")}
				</span>
				<Button className="ml-auto" look={own.totp ? "danger" : "usual"} onClick={() => setDoing(own.totp ? "app off" : "app")}>
					{own.totp ? say("Turn off") : say("Set up")}
				</Button>
			</div>
			<div className="border-b border-line2 py-2 text-[13.4px]">
				<div className="flex items-center gap-2">
					<KeyRound size={16} className="text-quiet" />
					<span>
						{own.passkeys.length
							? say("Passkeys, kept by a device: one alone signs you in")
							: say("Passkeys, kept by a device: one alone signs you in; none yet")}
					</span>
					{canHavePasskeys() && (
						<Button className="ml-auto" onClick={() => setDoing("passkey")}>
							{say("Add one")}
						</Button>
					)}
				</div>
				{!canHavePasskeys() && (
					<p className="mt-1 quiet-line">
						{say("This browser makes them only where Cohortia has a name and HTTPS, not at {hostname}.", {
							hostname: window.location.hostname,
						})}
					</p>
				)}
				<ul>
					{own.passkeys.map((one) => (
						<li key={one.id} className="mt-1 flex items-center gap-2 pl-6">
							<span className="min-w-0 truncate">{one.name}</span>
							<span className="quiet-line whitespace-nowrap">
								{one.last_used_at
									? say("last used {last_used_at}", { last_used_at: moment(one.last_used_at) })
									: say("made {created_at}", { created_at: moment(one.created_at) })}
							</span>
							<Button
								look="danger"
								className="ml-auto"
								aria-label={say("Remove the passkey {name}", { name: one.name })}
								onClick={() => setRemoving(one)}
							>
								{say("Remove")}
							</Button>
						</li>
					))}
				</ul>
			</div>
			{own.codes_left !== null && (
				<div className="flex items-center gap-2 py-2 text-[13.4px]">
					<span>
						{say("For when they are lost: {kept, plural, one {# kept code} other {# kept codes}} left", { kept: own.codes_left })}
					</span>
					<Button className="ml-auto" onClick={() => setDoing("codes")}>
						{say("Make new ones")}
					</Button>
				</div>
			)}
			{removing && (
				<ByPassword
					title={say("Remove the passkey “{name}”", { name: removing.name })}
					said={say("Nobody signs in with it any more, whoever has the device.")}
					button={say("Remove it")}
					write={(password) =>
						take(
							api.POST("/api/account/passkeys/{passkey_id}/remove", {
								params: { path: { passkey_id: removing.id } },
								body: { password },
							}),
						)
					}
					onClose={() => setRemoving(null)}
					onDone={() => setRemoving(null)}
				/>
			)}
			{doing === "app" && <SetUpApp onClose={close} onDone={done} />}
			{doing === "app off" && (
				<ByPassword
					title={say("Turn the app off")}
					said={say("Signing in takes the password alone then, unless there are passkeys.")}
					button={say("Turn off")}
					write={(password) => take(api.POST("/api/account/totp/off", { body: { password } }))}
					onClose={close}
					onDone={close}
				/>
			)}
			{doing === "codes" && (
				<ByPassword
					title={say("New codes")}
					said={say("Those made before are over.")}
					button={say("Make them")}
					write={(password) => take(api.POST("/api/account/codes", { body: { password } }))}
					onClose={close}
					onDone={(made) => done(made.codes)}
				/>
			)}
			{doing === "passkey" && <AddPasskey onClose={close} onDone={done} />}
			{codes.length > 0 && <Codes codes={codes} onClose={() => setCodes([])} />}
		</Part>
	);
}

interface Confirmed<Answer> {
	said?: string;
	button: string;
	write: (password: string) => Promise<Answer>;
	onDone: (answer: Answer) => void;
}

/** A dialog that does something once the password is given. */
function ByPassword<Answer>({ title, onClose, ...rest }: { title: string; onClose: () => void } & Confirmed<Answer>) {
	return (
		<Modal title={title} onClose={onClose}>
			<WithPassword first {...rest} />
		</Modal>
	);
}

function WithPassword<Answer>({ said, button, write, onDone, first = false }: Confirmed<Answer> & { first?: boolean }) {
	const [password, setPassword] = useState("");
	const go = useOwn(write, onDone);
	const refused = useRefused(go.error);
	return (
		<form
			onSubmit={(event) => {
				event.preventDefault();
				go.mutate(password);
			}}
		>
			{said && <p className="mb-3">{said}</p>}
			<Field
				label={say("Your password")}
				type="password"
				autoFocus={first}
				autoComplete="current-password"
				required
				value={password}
				onChange={setPassword}
				{...refused.field}
			/>
			{refused.said}
			<Button look="main" type="submit" disabled={go.isPending}>
				{button}
			</Button>
		</form>
	);
}

function SetUpApp({ onClose, onDone }: { onClose: () => void; onDone: (codes: string[]) => void }) {
	const [begun, setBegun] = useState<Shape<"TotpOut"> | null>(null);
	const [code, setCode] = useState("");
	const confirm = useOwn(
		(_: undefined) => take(api.PUT("/api/account/totp", { body: { code } })),
		(made) => onDone(made.codes),
	);
	const refused = useRefused(confirm.error);
	if (!begun)
		return (
			<ByPassword
				title={say("An app that shows codes")}
				said={say("Any app for one-time codes will do.")}
				button={say("Go on")}
				write={(password) => take(api.POST("/api/account/totp", { body: { password } }))}
				onClose={onClose}
				onDone={setBegun}
			/>
		);
	return (
		<Modal title={say("An app that shows codes")} onClose={onClose}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					confirm.mutate(undefined);
				}}
			>
				<p>{say("Let the app read this picture, or type the secret into it. Then give the code that it shows.")}</p>
				<img
					className="mx-auto my-3 size-44"
					alt={say("The secret, to be read by the app’s camera")}
					src={`data:image/svg+xml;utf8,${encodeURIComponent(begun.picture)}`}
				/>
				<p className="mb-3 text-center">
					<code className="[overflow-wrap:anywhere]">{begun.secret.match(/.{1,4}/g)?.join(" ")}</code>
				</p>
				<Field
					label={say("Code of the app")}
					autoFocus
					inputMode="numeric"
					autoComplete="one-time-code"
					required
					value={code}
					onChange={setCode}
					{...refused.field}
				/>
				{refused.said}
				<Button look="main" type="submit" disabled={confirm.isPending}>
					{say("Ask for it from now on")}
				</Button>
			</form>
		</Modal>
	);
}

function AddPasskey({ onClose, onDone }: { onClose: () => void; onDone: (codes: string[]) => void }) {
	const [name, setName] = useState("");
	return (
		<Modal title={say("Add a passkey")} onClose={onClose}>
			<Field
				label={say("What it is called")}
				hint={say("Such as the device that keeps it")}
				autoFocus
				value={name}
				onChange={setName}
				maxLength={80}
			/>
			<WithPassword
				button={say("Make it")}
				onDone={onDone}
				write={async (password) => {
					const options = await take(api.POST("/api/account/passkeys/new", { body: { password } }));
					const credential = await makePasskey(options.publicKey).catch((error) => {
						throw saidOf(error);
					});
					return (await take(api.POST("/api/account/passkeys", { body: { name, credential } }))).codes;
				}}
			/>
		</Modal>
	);
}

function Codes({ codes, onClose }: { codes: string[]; onClose: () => void }) {
	return (
		<Modal title={say("Keep these codes")} onClose={onClose}>
			<p>
				{say(
					"For when the app or the passkey is lost: each signs you in once, after the password. They are shown only now. Print them, or keep them where you keep passwords.",
				)}
			</p>
			<ul className="my-3 grid grid-cols-2 gap-1 font-mono text-[15px]" aria-label={say("Codes")}>
				{codes.map((code) => (
					<li key={code}>{code}</li>
				))}
			</ul>
			<Button look="main" onClick={onClose}>
				{say("I have kept them")}
			</Button>
		</Modal>
	);
}
