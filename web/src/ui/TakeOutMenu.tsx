import { Menu, MenuButton, MenuItem, MenuItems } from "@headlessui/react";
import { Download } from "lucide-react";
import { say } from "../language/say";

export interface Way {
	href: string;
	/** Such as ".docx", and what is in it. */
	ending: string;
	hint: string;
}

/** What can be taken out in several ways, each with a word on what is in it. */
export function TakeOutMenu({ name, groups }: { name: string; groups: { title: string; ways: Way[] }[] }) {
	return (
		<Menu>
			<MenuButton className="inline-flex shrink-0 items-center gap-1.5 rounded-md border border-line bg-card px-2.5 py-1 text-[13px] font-semibold whitespace-nowrap hover:border-quiet print:hidden">
				<Download size={14} aria-hidden="true" />
				{name}
			</MenuButton>
			<MenuItems
				anchor={{ to: "bottom end", gap: 4 }}
				className="z-50 w-80 rounded-lg border border-line bg-card p-1 text-[13.4px] shadow-lg focus:outline-none"
			>
				{groups.map((group) => (
					<section key={group.title} aria-label={group.title}>
						<p className="px-2 pt-1.5 text-xs font-semibold text-quiet">{group.title}</p>
						{group.ways.map((way) => (
							<MenuItem key={way.href}>
								<a href={way.href} download className="flex items-baseline gap-2 rounded px-2 py-1 data-focus:bg-spruce-soft">
									<b className="w-12 shrink-0 text-spruce">.{way.ending}</b>
									<span>{way.hint}</span>
								</a>
							</MenuItem>
						))}
					</section>
				))}
			</MenuItems>
		</Menu>
	);
}

/** The ways in which texts leave, by a path that ends before the form. */
export function waysOfTexts(path: string, after = ""): Way[] {
	const hints = {
		docx: say("codings as comments; comes in again as it is"),
		txt: say("words and who says them"),
		vtt: say("with times, of recordings"),
		html: say("a page with what is coded marked"),
	};
	return Object.entries(hints).map(([ending, hint]) => ({ ending, hint, href: `${path}/${ending}${after}` }));
}
