import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { useMutation } from "@tanstack/react-query";
import { useState } from "react";
import { Link } from "react-router";
import { api, take } from "../api/client";
import { Button } from "../ui/Button";
import { Modal } from "../ui/Modal";
import { useToasts } from "../ui/toasts";
import { CloseAccount } from "./CloseAccount";
import { useSession, useSignOut } from "./session";

const ITEM = "block w-full rounded-md px-2.5 py-1.5 text-left text-[13.4px] data-focus:bg-spruce-soft";

export function AccountMenu({ projectId }: { projectId?: number }) {
	const account = useSession().data?.account;
	const signOut = useSignOut();
	const [changing, setChanging] = useState(false);
	const [closing, setClosing] = useState(false);
	if (!account) return null;
	return (
		<>
			<Menu>
				<MenuButton
					aria-label={`Account of ${account.display_name}`}
					className="grid size-7 place-items-center rounded-full bg-spruce-soft text-xs font-bold text-spruce"
				>
					{account.initials}
				</MenuButton>
				<MenuItems
					anchor={{ to: "bottom end", gap: 6 }}
					className="z-50 w-52 rounded-lg border border-line bg-white p-1 shadow-lg focus:outline-none"
				>
					<p className="px-2.5 py-1.5 quiet-line">{account.display_name}</p>
					{projectId !== undefined && (
						<>
							<MenuItem>
								<Link className={ITEM} to={`/projects/${projectId}/members`}>
									Members
								</Link>
							</MenuItem>
							<MenuItem>
								<Link className={ITEM} to={`/projects/${projectId}/history`}>
									What was done
								</Link>
							</MenuItem>
						</>
					)}
					<MenuItem>
						<Link className={ITEM} to="/">
							All projects
						</Link>
					</MenuItem>
					<MenuItem>
						<button type="button" className={ITEM} onClick={() => setChanging(true)}>
							Change password
						</button>
					</MenuItem>
					<MenuItem>
						<button type="button" className={ITEM} onClick={() => setClosing(true)}>
							Close my account
						</button>
					</MenuItem>
					<MenuItem>
						<button type="button" className={ITEM} onClick={() => signOut.mutate()}>
							Sign out
						</button>
					</MenuItem>
				</MenuItems>
			</Menu>
			{changing && <PasswordChange onClose={() => setChanging(false)} />}
			{closing && <CloseAccount onClose={() => setClosing(false)} />}
		</>
	);
}

function PasswordChange({ onClose }: { onClose: () => void }) {
	const { tell } = useToasts();
	const [current, setCurrent] = useState("");
	const [next, setNext] = useState("");
	const change = useMutation({
		mutationFn: () => take(api.PUT("/api/password", { body: { current, new: next } })),
		onSuccess: () => {
			tell("Your password is changed.");
			onClose();
		},
	});
	return (
		<Modal title="Change password" onClose={onClose}>
			<form
				className="space-y-3"
				onSubmit={(event) => {
					event.preventDefault();
					change.mutate();
				}}
			>
				<label className="block font-semibold">
					Current password
					<input
						type="password"
						autoComplete="current-password"
						required
						className="field mt-1 w-full font-normal"
						value={current}
						onChange={(event) => setCurrent(event.target.value)}
					/>
				</label>
				<label className="block font-semibold">
					New password, ten characters or more
					<input
						type="password"
						autoComplete="new-password"
						required
						className="field mt-1 w-full font-normal"
						value={next}
						onChange={(event) => setNext(event.target.value)}
					/>
				</label>
				{change.error && (
					<p role="alert" className="text-danger">
						{change.error.message}
					</p>
				)}
				<Button look="main" type="submit">
					Change it
				</Button>
			</form>
		</Modal>
	);
}
