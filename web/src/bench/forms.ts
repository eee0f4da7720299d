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
}

const KEY = 'zolvet-forms';
const usual: Forms = { shown: 'css', cssForm: 'rule', svgForm: 'inline' };

const known: [Form[], CssForm[], SvgForm[]] = [
  ['css', 'page', 'values', 'svg'],
  ['rule', 'declarations', 'properties', 'utilities', 'react'],
  ['inline', 'img', 'background'],
];

export const useForms = create<Forms>()(() => ({ ...usual, ...kept() }));

export function setForms(forms: Partial<Forms>) {
  useForms.setState(forms);
  const { shown, cssForm, svgForm } = useForms.getState();
  remember(KEY, JSON.stringify([shown, cssForm, svgForm]));
}

/** What was chosen last, as far as there still is such a form. */
function kept(): Partial<Forms> {
  const [shown, cssForm, svgForm] = (remembered(KEY) ?? '').split(/[^a-z]+/).filter(Boolean);
  const among = <V extends string>(values: V[], value: string | undefined) =>
    values.find((one) => one === value);
  return {
    shown: among(known[0], shown) ?? usual.shown,
    cssForm: among(known[1], cssForm) ?? usual.cssForm,
    svgForm: among(known[2], svgForm) ?? usual.svgForm,
  };
}
