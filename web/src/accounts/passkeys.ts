import { say } from "../language/say";

/** Between what the server says in JSON and what the browser takes and gives: bytes are base64url there, buffers here. */

const BYTES = new Set(["challenge", "id", "user.id"]);

function toBytes(text: string): Uint8Array<ArrayBuffer> {
	const plain = atob(text.replaceAll("-", "+").replaceAll("_", "/"));
	return Uint8Array.from(plain, (letter) => letter.charCodeAt(0));
}

export function toText(bytes: ArrayBuffer | null): string | null {
	if (!bytes) return null;
	const letters = Array.from(new Uint8Array(bytes), (byte) => String.fromCharCode(byte)).join("");
	return btoa(letters).replaceAll("+", "-").replaceAll("/", "_").replaceAll("=", "");
}

type Asked = { [name: string]: unknown };

/** The options with their challenge and keys as bytes. */
export function asked(options: Asked, within = ""): Asked {
	return Object.fromEntries(
		Object.entries(options).map(([name, value]) => {
			const where = within ? `${within}.${name}` : name;
			if (typeof value === "string" && (BYTES.has(where) || where.endsWith("Credentials.id"))) return [name, toBytes(value)];
			if (Array.isArray(value)) return [name, value.map((one) => (typeof one === "object" && one ? asked(one as Asked, where) : one))];
			if (typeof value === "object" && value) return [name, asked(value as Asked, where)];
			return [name, value];
		}),
	);
}

/** Whether this browser, at this address, can make passkeys: not at a bare number. */
export function canHavePasskeys(): boolean {
	return "PublicKeyCredential" in window && window.isSecureContext && !/^[\d.:[\]]+$/.test(window.location.hostname);
}

export async function makePasskey(options: Asked): Promise<Asked> {
	const made = await navigator.credentials.create({ publicKey: asked(options) as unknown as PublicKeyCredentialCreationOptions });
	return given(made, (response: AuthenticatorAttestationResponse) => ({ attestationObject: toText(response.attestationObject) }));
}

export async function askForPasskey(options: Asked): Promise<Asked> {
	const found = await navigator.credentials.get({ publicKey: asked(options) as unknown as PublicKeyCredentialRequestOptions });
	return given(found, (response: AuthenticatorAssertionResponse) => ({
		authenticatorData: toText(response.authenticatorData),
		signature: toText(response.signature),
		userHandle: toText(response.userHandle),
	}));
}

/** What the browser gives, as the server takes it. */
function given<Response extends AuthenticatorResponse>(credential: Credential | null, its: (response: Response) => Asked): Asked {
	if (!credential) throw new Error(say("The browser gave no passkey. Try again."));
	const known = credential as PublicKeyCredential;
	const response = known.response as Response;
	return {
		id: known.id,
		rawId: toText(known.rawId),
		type: known.type,
		response: { clientDataJSON: toText(response.clientDataJSON), ...its(response) },
		clientExtensionResults: known.getClientExtensionResults(),
	};
}

/** What went wrong at the browser's own window, in words. */
export function saidOf(error: unknown): Error {
	if (error instanceof DOMException) return new Error(say("The browser’s window was closed, or nothing was chosen. Try again."));
	return error instanceof Error ? error : new Error(say("That didn’t work. Try again."));
}
