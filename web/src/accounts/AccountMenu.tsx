import { Menu, MenuButton, MenuHeading, MenuItem, MenuItems, MenuSection } from "@headlessui/react";
import { Check } from "lucide-react";
import { Link } from "react-router";
import { useShowKeys } from "../help/Keys";
import { say } from "../language/say";
import { useSession, useSignOut, useSpeak } from "../project/session";
import { chooseTheme, THEMES, useTheme } from "../ui/theme";

const ITEM = "block w-full rounded-md px-2.5 py-1.5 text-left text-[13.4px] data-focus:bg-spruce-soft";

export function AccountMenu({ projectId }: { projectId?: number }) {
	const account = useSession().data?.account;
	const signOut = useSignOut();
	const showKeys = useShowKeys();
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
						<MenuItem>
							<button type="button" className={ITEM} onClick={showKeys}>
								{say("Keys")}
							</button>
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
				<Languages />
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
	return <OneOf name={say("Colours")} chosen={theme} choices={THEMES.map((one) => [one, SAID[one]])} onChoose={chooseTheme} />;
}

/** Each language is called as it calls itself. */
const itself = (tag: string) => {
	const name = new Intl.DisplayNames([tag], { type: "language" }).of(tag) ?? tag;
	return name.slice(0, 1).toUpperCase() + name.slice(1);
};

function Languages() {
	const session = useSession().data;
	const speak = useSpeak();
	if (!session || session.languages.length < 2) return null;
	return (
		<OneOf
			name={say("Language")}
			chosen={session.language_chosen}
			choices={[["", say("As this browser has it")], ...session.languages.map((tag): [string, string] => [tag, itself(tag)])]}
			onChoose={(tag) => speak.mutate(tag)}
		/>
	);
}

interface Choices<Value extends string> {
	name: string;
	chosen: Value;
	choices: [Value, string][];
	onChoose: (value: Value) => void;
}

function OneOf<Value extends string>({ name, chosen, choices, onChoose }: Choices<Value>) {
	return (
		<MenuSection className="my-1 border-t border-line2 py-1">
			<MenuHeading className="px-2.5 py-0.5 text-[12px] font-semibold text-quiet">{name}</MenuHeading>
			{choices.map(([value, label]) => (
				<MenuItem key={value}>
					<button
						type="button"
						className={`${ITEM} flex items-center gap-2`}
						aria-current={value === chosen ? "true" : undefined}
						onClick={() => onChoose(value)}
					>
						<Check size={14} className={value === chosen ? "text-spruce" : "invisible"} aria-hidden="true" />
						{label}
					</button>
				</MenuItem>
			))}
		</MenuSection>
	);
}
