import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Link } from "react-router";
import { useSession, useSignOut } from "../project/session";

const ITEM = "block w-full rounded-md px-2.5 py-1.5 text-left text-[13.4px] data-focus:bg-spruce-soft";

export function AccountMenu({ projectId }: { projectId?: number }) {
	const account = useSession().data?.account;
	const signOut = useSignOut();
	if (!account) return null;
	return (
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
					<Link className={ITEM} to="/account">
						My account
					</Link>
				</MenuItem>
				<MenuItem>
					<button type="button" className={ITEM} onClick={() => signOut.mutate()}>
						Sign out
					</button>
				</MenuItem>
			</MenuItems>
		</Menu>
	);
}
