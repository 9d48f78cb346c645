/** A few choices side by side, one of them on. */
export function Segments<T extends string>({
	name,
	value,
	options,
	onChange,
}: {
	name: string;
	value: T;
	options: { value: T; label: string }[];
	onChange: (value: T) => void;
}) {
	return (
		<fieldset className="flex overflow-hidden rounded-md border border-line text-[12.6px] font-semibold">
			<legend className="sr-only">{name}</legend>
			{options.map((option) => (
				<button
					key={option.value}
					type="button"
					aria-pressed={option.value === value}
					onClick={() => onChange(option.value)}
					className={`flex-1 border-r border-line px-2 py-1 whitespace-nowrap last:border-r-0 ${option.value === value ? "bg-spruce text-on-spruce" : "bg-card text-quiet hover:text-ink"}`}
				>
					{option.label}
				</button>
			))}
		</fieldset>
	);
}
