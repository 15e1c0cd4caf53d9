type Props = {
  label: string;
  size: number;
  path?: string | undefined;
  filled?: string;
  wide?: number;
  high?: number;
};

/** A small picture of lines, SVG paths in mm, and of what is filled in it; room for it while it is not there. */
export function LinePicture({ label, size, path, filled = "", wide = 0, high = 0 }: Props) {
  if (!path) return <span className="block" style={{ width: size, height: size }} />;
  const pad = Math.max(wide, high) * 0.03;
  return (
    <svg
      role="img"
      aria-label={label}
      className="block"
      width={size}
      height={size}
      viewBox={`${-pad} ${-pad} ${wide + 2 * pad} ${high + 2 * pad}`}
    >
      {filled && <path d={filled} className="fill-primary/60" fillRule="evenodd" />}
      <path d={path} fill="none" stroke="currentColor" strokeWidth={1} vectorEffect="non-scaling-stroke" />
    </svg>
  );
}
