import { finishOf, ownInTheme } from '../session/finishes';
import { useTheme } from '../session/seen';
import { useDocument } from '../session/store';

/** Whether a finish has other coats under the theme of the open scene, and how that is changed. */
export function useOwnInTheme(finish: string | undefined) {
  const theme = useTheme();
  const themes = useDocument(({ document }) => document?.themes);
  const own = useDocument(({ document }) =>
    Boolean(document && finish && finishOf(document, finish)?.themes?.[theme]),
  );
  const several = themes !== undefined && themes.length > 1;
  return {
    /** The theme's name, where there are several. */
    name: several ? themes.find((other) => other.id === theme)?.name : undefined,
    own,
    change: (to: boolean) => finish && ownInTheme(finish, theme, to),
  };
}
