import { words } from '../messages';
import { say, sayFailure } from '../page/toast';
import type { PlacedFile } from '../session/dropped';
import { addPage } from '../session/pageScenes';

/** Brings a page in, and says what it does not have. */
export async function takePage(files: PlacedFile[]) {
  if (files.length === 0) return;
  try {
    const { missing } = await addPage(files);
    if (missing.length > 0) say(words.pages.missing(missing));
  } catch (error) {
    const name = files[0]?.file.name ?? words.pages.page;
    sayFailure(`${words.pages.refused(name)}: ${(error as Error).message}`);
  }
}
