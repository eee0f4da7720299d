import { create } from 'zustand';
import type { Schemas } from '../core/client';
import { remember, remembered } from '../core/storage';

export type Form = 'css' | 'page' | 'values' | 'svg';
export type CssForm = 'rule' | keyof Schemas['Copies'];
export type SvgForm = 'inline' | 'img' | 'background';

/** In which form code is shown and copied: the same for every piece, and the next time. */
interface Forms {
  shown: Form;
  cssForm: CssForm;
  svgForm: SvgForm;
  /** Whether CSS is shown with the size and the fill of the piece. */
  whole: boolean;
}

/** The forms, and the piece for which one of them was chosen last. */
interface Choice extends Forms {
  chosenFor: string | null;
}

const KEY = 'zolvet-forms';
const usual: Forms = { shown: 'css', cssForm: 'rule', svgForm: 'inline', whole: false };

const known: [Form[], CssForm[], SvgForm[]] = [
  ['css', 'page', 'values', 'svg'],
  ['rule', 'declarations', 'properties', 'utilities', 'react'],
  ['inline', 'img', 'background'],
];

export const useForms = create<Choice>()(() => ({ ...usual, ...kept(), chosenFor: null }));

/** Shows and copies code in other forms from now on. */
export function setForms(forms: Partial<Forms>, chosenFor = useForms.getState().chosenFor) {
  useForms.setState({ ...forms, chosenFor });
  const { shown, cssForm, svgForm, whole } = useForms.getState();
  remember(KEY, JSON.stringify([shown, cssForm, svgForm, whole ? 'whole' : 'depth']));
}

/**
 * The form in which a piece opens: as chosen, but as SVG where that is clearly closer to the design than CSS or HTML, until
 * a form is chosen for this very piece.
 */
export function formOf({ shown, chosenFor }: Choice, piece: string | undefined, closerAsSvg: boolean): Form {
  const isCode = shown === 'css' || shown === 'page';
  return closerAsSvg && isCode && chosenFor !== piece ? 'svg' : shown;
}

/** What was chosen last, as far as there still is such a form. */
function kept(): Partial<Forms> {
  const [shown, cssForm, svgForm, whole] = (remembered(KEY) ?? '').split(/[^a-z]+/).filter(Boolean);
  const among = <V extends string>(values: V[], value: string | undefined) =>
    values.find((one) => one === value);
  return {
    shown: among(known[0], shown) ?? usual.shown,
    cssForm: among(known[1], cssForm) ?? usual.cssForm,
    svgForm: among(known[2], svgForm) ?? usual.svgForm,
    whole: whole === 'whole',
  };
}
