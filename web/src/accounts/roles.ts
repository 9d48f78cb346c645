import type { Shape } from "../api/client";

export type Role = Shape<"RoleOfMember">;

/** What each role may, from most to least. */
export const ROLES: { value: Role; label: string; hint: string }[] = [
	{ value: "owner", label: "owner", hint: "Works, says who may, and may delete the project" },
	{ value: "coder", label: "coder", hint: "Brings in, links, codes, compares" },
	{ value: "viewer", label: "viewer", hint: "Reads and compares, changes nothing" },
];
