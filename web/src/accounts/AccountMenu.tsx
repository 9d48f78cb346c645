import { Menu, MenuButton, MenuHeading, MenuItem, MenuItems, MenuSection } from "@headlessui/react";
import { Check } from "lucide-react";
import { Link } from "react-router";
import { say } from "../language/say";
import { useSession, useSignOut } from "../project/session";
import { chooseTheme, THEMES, useTheme } from "../ui/theme";

const ITEM = "block w-full rounded-md px-2.5 py-1.5 text-left text-[13.4px] data-focus:bg-spruce-soft";

export function AccountMenu({ projectId }: { projectId?: number }) {
	const account = useSession().data?.account;
	const signOut = useSignOut();
	if (!account) return null;
	return (
		<Menu>
			<MenuButton
				aria-label={say("Account of {display_name}", { display_name: account.display_name })}
				className="grid size-7 place-items-center rounded-full bg-spruce-soft text-xs font-bold text-spruce"
			>
				{account.initials}
			</MenuButton>
			<MenuItems
				anchor={{ to: "bottom end", gap: 6 }}
				className="z-50 w-56 rounded-lg border border-line bg-card p-1 shadow-lg focus:outline-none"
			>
				<p className="px-2.5 py-1.5 quiet-line">{account.display_name}</p>
				{projectId !== undefined && (
					<>
						<MenuItem>
							<Link className={ITEM} to={`/projects/${projectId}/members`}>
								{say("Members")}
							</Link>
						</MenuItem>
						<MenuItem>
							<Link className={ITEM} to={`/projects/${projectId}/history`}>
								{say("What was done")}
							</Link>
						</MenuItem>
						<MenuItem>
							<Link className={ITEM} to={`/projects/${projectId}/words`}>
								{say("Words used here")}
							</Link>
						</MenuItem>
					</>
				)}
				<MenuItem>
					<Link className={ITEM} to="/">
						{say("All projects")}
					</Link>
				</MenuItem>
				<MenuItem>
					<Link className={ITEM} to="/account">
						{say("My account")}
					</Link>
				</MenuItem>
				<Colours />
				<MenuItem>
					<button type="button" className={ITEM} onClick={() => signOut.mutate()}>
						{say("Sign out")}
					</button>
				</MenuItem>
			</MenuItems>
		</Menu>
	);
}

const SAID = { system: say("As this computer has it"), light: say("By day"), dark: say("By night") };

function Colours() {
	const theme = useTheme();
	return (
		<MenuSection className="my-1 border-y border-line2 py-1">
			<MenuHeading className="px-2.5 py-0.5 text-[12px] font-semibold text-quiet">{say("Colours")}</MenuHeading>
			{THEMES.map((one) => (
				<MenuItem key={one}>
					<button
						type="button"
						className={`${ITEM} flex items-center gap-2`}
						aria-current={one === theme ? "true" : undefined}
						onClick={() => chooseTheme(one)}
					>
						<Check size={14} className={one === theme ? "text-spruce" : "invisible"} aria-hidden="true" />
						{SAID[one]}
					</button>
				</MenuItem>
			))}
		</MenuSection>
	);
}
