/** A day that may be left open. */
export function Day({ name, value, onChange }: { name: string; value?: string | null; onChange: (day: string | null) => void }) {
	return (
		<input type="date" aria-label={name} className="field" value={value ?? ""} onChange={(event) => onChange(event.target.value || null)} />
	);
}
