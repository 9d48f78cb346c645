import type { Shape } from "../api/client";
import { say } from "../language/say";

export type Role = Shape<"RoleOfMember">;

/** What each role may, from most to least. */
export const ROLES: { value: Role; label: string; hint: string }[] = [
	{ value: "owner", label: say("owner"), hint: say("Works, says who may, and may delete the project") },
	{ value: "coder", label: say("coder"), hint: say("Brings in, links, codes, compares") },
	{ value: "viewer", label: say("viewer"), hint: say("Reads and compares, changes nothing") },
];

/** A role in words. */
export const roleOf = (role: Role): string => ROLES.find((one) => one.value === role)?.label ?? role;

/** What whoever is invited is offered first. */
export const USUAL: Role = "coder";

/** Whether this role reaches as far as that one. */
export function reaches(role: Role, needed: Role): boolean {
	const place = (one: Role) => ROLES.findIndex((known) => known.value === one);
	return place(role) <= place(needed);
}

/** Whether whoever has it works here, or only looks. */
export const works = (role: Role) => reaches(role, "coder");

/** Whether whoever has it decides about others’ work, and who may. */
export const decides = (role: Role) => reaches(role, "owner");
