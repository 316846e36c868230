import { Link } from "react-router";

import { useHint } from "../../ui/does";

/** What is chosen, on the Bench. hint: what of it is worked on there. */
export function OnBench({ to, hint }: { to: string; hint: string }) {
  const withKey = useHint("bench");
  return (
    <Link className="inline-flex h-[26px] items-center border border-strong px-2.5 font-medium hover:border-ink" title={withKey(hint)} to={to}>
      Open on the Bench
    </Link>
  );
}
