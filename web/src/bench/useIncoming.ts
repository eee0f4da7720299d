import { useWindowEvent } from '@mantine/hooks';
import { useLocation } from 'wouter';
import { words } from '../messages';
import { sayFailure } from '../page/toast';
import { isTyped } from '../parts/interaction';
import { bring, canBring } from '../session/bringing';
import { onCopy, pasteText } from '../session/clipboard';
import { droppedFiles } from '../session/dropped';
import { bringFont, isFont } from '../session/fonts';
import { addIcons, isSvg, SET } from '../session/iconSet';
import { iconOfText, placeFile } from '../session/placeFile';
import { useDocument } from '../session/store';
import { isCss, takeCss } from '../session/takeCss';

/**
 * What is pasted or dropped on the bench: pictures and icons become pieces, many icons a set, fonts those of the chosen text, CSS becomes coats of the chosen piece, copied
 * coats go on every chosen piece. What is copied or pasted in a field or dialog stays there.
 */
export function useIncoming() {
  const [, go] = useLocation();
  useWindowEvent('paste', (event) => {
    if (isElsewhere(event) || !event.clipboardData || !take(event.clipboardData)) return;
    event.preventDefault();
  });
  useWindowEvent('copy', (event) => {
    if (!isElsewhere(event) && onCopy(event)) event.preventDefault();
  });
  useWindowEvent('dragover', (event) => {
    if (!isElsewhere(event)) event.preventDefault();
  });
  useWindowEvent('drop', (event) => {
    if (isElsewhere(event) || !event.dataTransfer) return;
    event.preventDefault();
    if (isSet(event.dataTransfer)) {
      void droppedFiles(event.dataTransfer, isSvg).then(addIcons);
      return go(`/projects/${useDocument.getState().id}/icons`);
    }
    if (!take(event.dataTransfer)) sayFailure(words.bench.wrongDrop);
  });
}

/** Whether something is meant for a field or dialog of its own. */
function isElsewhere({ target }: Event): boolean {
  return target instanceof Element && (isTyped(target) || target.closest('[role=dialog]') !== null);
}

/** Whether so many icons are dropped that they are a set, or a folder is. */
function isSet(dropped: DataTransfer): boolean {
  const hasFolder = [...dropped.items].some((item) => item.webkitGetAsEntry()?.isDirectory);
  return hasFolder || [...dropped.files].filter(({ name }) => isSvg(name)).length > SET;
}

/** Takes what it can; false when there is nothing of use. */
function take(brought: DataTransfer): boolean {
  const files = [...brought.files];
  const fonts = files.filter(isFont);
  for (const file of fonts) bringFont(file).catch(tell);
  if (fonts.length > 0) return true;
  const pictures = files.filter(({ type }) => type.startsWith('image/'));
  const sheets = files.filter(({ type }) => !type.startsWith('image/'));
  const text = brought.getData('text/plain');
  const icon = iconOfText(text, words.bench.iconSvg);
  for (const file of pictures.length > 0 ? pictures : icon ? [icon] : []) {
    placeFile(file).catch(tell);
  }
  if (pictures.length > 0 || icon) return true;
  const [only, ...more] = sheets;
  // A few declarations are meant for the chosen piece; a whole sheet is looked through first.
  const isSnippet = only && more.length === 0 && /\.css$/i.test(only.name) && only.size < 2000;
  if (isSnippet && useDocument.getState().piece) {
    void only.text().then(takeText);
    return true;
  }
  if (canBring(sheets)) {
    void bring(sheets);
    return true;
  }
  return pasteText(text) || takeText(text);
}

function takeText(text: string): boolean {
  if (!isCss(text)) return false;
  if (useDocument.getState().piece) takeCss(text, false).catch(tell);
  else sayFailure(words.bench.choosePieceForCss);
  return true;
}

function tell(error: Error) {
  sayFailure(error.message);
}
