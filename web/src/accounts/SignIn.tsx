import { KeyRound } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { say } from "../language/say";
import { type Session, useSignOut } from "../project/session";
import { Button } from "../ui/Button";
import { useRefused } from "../ui/refused";
import { Field, Outside, Wrong } from "./Outside";
import { canHavePasskeys } from "./passkeys";
import { useCode, usePasskey, useSignIn } from "./signing";

/** Name and password, or a passkey; then the second step, where the account has one. */
export function SignIn({ session }: { session: Session }) {
	return session.second.length ? <SecondStep ways={session.second} /> : <FirstStep session={session} />;
}

function FirstStep({ session }: { session: Session }) {
	const [username, setUsername] = useState("");
	const [password, setPassword] = useState("");
	const signIn = useSignIn();
	const passkey = usePasskey();
	const refused = useRefused(signIn.error ?? passkey.error);
	return (
		<Outside called={say("Sign in")} title={say("What different groups of people say, compared with care.")}>
			<form
				onSubmit={(event) => {
					event.preventDefault();
					passkey.reset();
					signIn.mutate({ username, password });
				}}
			>
				<Field
					label={say("Name")}
					autoFocus
					autoComplete="username webauthn"
					required
					value={username}
					onChange={setUsername}
					{...refused.field}
				/>
				<Field
					label={say("Password")}
					type="password"
					autoComplete="current-password"
					required
					value={password}
					onChange={setPassword}
					{...refused.field}
				/>
				{refused.said}
				<Button look="main" type="submit" className="w-full justify-center py-2!" disabled={signIn.isPending}>
					{say("Sign in")}
				</Button>
			</form>
			{canHavePasskeys() && (
				<Button
					className="mt-2 w-full justify-center py-2!"
					disabled={passkey.isPending}
					onClick={() => {
						signIn.reset();
						passkey.mutate(undefined);
					}}
				>
					<KeyRound size={15} />
					{say(" Sign in with a passkey")}
				</Button>
			)}
			<p className="mt-4 flex flex-wrap gap-x-4 text-[13px]">
				<Link className="text-spruce hover:underline" to="/forgotten">
					{say("Password forgotten?")}
				</Link>
				{session.mailbox && (
					<Link className="text-spruce hover:underline" to="/mailbox">
						{say("The demo’s mailbox")}
					</Link>
				)}
			</p>
		</Outside>
	);
}

function SecondStep({ ways }: { ways: Session["second"] }) {
	const [code, setCode] = useState("");
	const byCode = useCode();
	const passkey = usePasskey();
	const again = useSignOut();
	const refused = useRefused(byCode.error ?? passkey.error);
	const codes = ways.includes("code") || ways.includes("recovery");
	return (
		<Outside called={say("Sign in, second step")} title={say("One more step: it is asked for besides the password.")}>
			{ways.includes("passkey") && canHavePasskeys() && (
				<Button
					look="main"
					className="mb-4 w-full justify-center py-2!"
					disabled={passkey.isPending}
					onClick={() => passkey.mutate(undefined)}
				>
					<KeyRound size={15} />
					{say(" Use a passkey")}
				</Button>
			)}
			{codes && (
				<form
					onSubmit={(event) => {
						event.preventDefault();
						passkey.reset();
						byCode.mutate(code);
					}}
				>
					<Field
						label={ways.includes("code") ? say("Code of the app") : say("One of your kept codes")}
						hint={ways.includes("recovery") && ways.includes("code") ? say("If the app is lost: one of the codes you kept.") : undefined}
						autoFocus
						inputMode="numeric"
						autoComplete="one-time-code"
						required
						value={code}
						onChange={setCode}
						{...refused.field}
					/>
					{refused.said}
					<Button look="main" type="submit" className="w-full justify-center py-2!" disabled={byCode.isPending}>
						{say("Sign in")}
					</Button>
				</form>
			)}
			{!codes && <Wrong error={passkey.error} />}
			<Button look="plain" className="mt-3" onClick={() => again.mutate()}>
				{say("Begin again")}
			</Button>
		</Outside>
	);
}
