import { useState } from "react";
import { Button } from "../ui/Button";
import { Mark } from "./Mark";
import { useSignIn } from "./session";

export function SignIn() {
	const [username, setUsername] = useState("");
	const [password, setPassword] = useState("");
	const signIn = useSignIn();
	return (
		<main className="grid min-h-screen place-items-center p-6">
			<form
				className="w-full max-w-sm rounded-lg border border-line bg-white p-7"
				onSubmit={(event) => {
					event.preventDefault();
					signIn.mutate({ username, password });
				}}
			>
				<div className="mb-1 flex items-center gap-2.5">
					<Mark />
					<span className="font-serif text-xl font-semibold">Cohortia</span>
				</div>
				<h1 className="mb-5 text-[15px]! font-normal! text-quiet">What different groups of people say, compared with care.</h1>
				<label className="mb-3 block font-semibold">
					Name
					<input
						autoFocus
						className="field mt-1 w-full font-normal"
						autoComplete="username"
						required
						value={username}
						onChange={(event) => setUsername(event.target.value)}
					/>
				</label>
				<label className="mb-4 block font-semibold">
					Password
					<input
						type="password"
						className="field mt-1 w-full font-normal"
						autoComplete="current-password"
						required
						value={password}
						onChange={(event) => setPassword(event.target.value)}
					/>
				</label>
				{signIn.error && (
					<p role="alert" className="mb-3 rounded-md bg-danger-soft px-3 py-2 text-danger">
						{signIn.error.message}
					</p>
				)}
				<Button look="main" type="submit" className="w-full justify-center py-2!" disabled={signIn.isPending}>
					Sign in
				</Button>
			</form>
		</main>
	);
}
