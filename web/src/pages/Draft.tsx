import { Button, Radio, Stack, Text, TextInput } from '@mantine/core';
import { useQuery } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import region from '../bench/region.module.css';
import { answer, api, type Schemas } from '../core/client';
import { words } from '../messages';
import { sayFailure } from '../page/toast';
import { Name } from '../parts/Name';
import { type Beginning, coatsOf, fit, type SeenElement } from '../session/fitting';
import { useScene } from '../session/seen';
import { useDocument } from '../session/store';
import { isKnown, selected, strengthOf } from './frameDocument';
import classes from './Pages.module.css';
import { usePage } from './usePage';

const said = words.pages;

/** An element that has nothing yet: which ones are meant, and what they begin with. */
export function Draft({ seen }: { element: HTMLElement; seen: SeenElement }) {
  const asset = useScene()?.page?.asset ?? '';
  const { data } = useQuery({
    queryKey: ['offers', asset, seen.number],
    queryFn: async () => {
      const path = { id: asset };
      return answer(
        await api.POST('/api/pages/{id}/offers', { params: { path }, body: { element: seen.number } }),
      );
    },
    staleTime: Number.POSITIVE_INFINITY,
  });
  const has = [seen.shadow, seen.filter].filter(Boolean).join('; ');
  return (
    <section aria-label={said.select} className={`${region.region} ${classes.draft}`}>
      <div className={classes.head}>
        <h2 className={classes.name} dir="auto">
          {seen.name}
        </h2>
        <span className={classes.size}>{said.size(seen.box.w, seen.box.h)}</span>
      </div>
      {data ? <Which key={seen.number} offers={data} /> : <Text size="sm">{said.looking}</Text>}
      <h3 className={classes.title}>{said.has}</h3>
      <p className={classes.has}>{has || said.hasNothing}</p>
      <Begin seen={seen} has={has !== ''} />
    </section>
  );
}

/** Which elements are meant: one, all that are like it, or those of a selector that is typed. */
function Which({ offers: { this: alone, alike } }: { offers: Schemas['Offers'] }) {
  const page = usePage((state) => state.page);
  const selector = usePage((state) => state.selector);
  const [typed, setTyped] = useState(false);
  const choices = [...alike, ...(alike.some((offer) => offer.selector === alone.selector) ? [] : [alone])];
  const first = choices[0]?.selector ?? null;
  useEffect(() => usePage.setState({ selector: first }), [first]);
  const group = useRef<HTMLDivElement>(null);
  useEffect(() => {
    if (usePage.getState().byKeys) group.current?.querySelector('input')?.focus();
  }, []);
  const chosen = choices.find((offer) => offer.selector === selector);
  const count = page && selector ? selected(page, selector).length : 0;
  const known = page !== null && selector !== null && isKnown(page, selector);
  return (
    <>
      <Radio.Group
        ref={group}
        aria-label={said.who}
        value={typed ? '' : (selector ?? '')}
        onChange={(value) => {
          setTyped(value === '');
          if (value !== '') usePage.setState({ selector: value });
        }}
      >
        <Stack gap={6}>
          {choices.map((offer) => (
            <Radio
              key={offer.selector}
              size="xs"
              value={offer.selector}
              label={
                <>
                  {offer === alone || offer.count === 1 ? said.thisOne : said.all(offer.count)}{' '}
                  <code className={classes.code}>{offer.selector}</code>
                </>
              }
            />
          ))}
          <Radio size="xs" value="" label={said.typed} />
        </Stack>
      </Radio.Group>
      {typed && (
        <TextInput
          size="xs"
          aria-label={said.selector}
          className={classes.typed}
          value={selector ?? ''}
          error={known ? undefined : said.wrongSelector}
          description={known ? said.selects(count) : undefined}
          onChange={(event) => usePage.setState({ selector: event.currentTarget.value })}
        />
      )}
      {chosen?.generated && <p className={classes.note}>{said.generated}</p>}
    </>
  );
}

/** What the elements begin with. */
function Begin({ seen, has }: { seen: SeenElement; has: boolean }) {
  const page = usePage((state) => state.page);
  const selector = usePage((state) => state.selector);
  const finishes = useDocument((state) => state.document?.finishes) ?? [];
  const can = page !== null && selector !== null && selected(page, selector).length > 0;
  const begin = (beginning: Beginning) => {
    if (!page || !selector) return;
    const count = selected(page, selector).length;
    fit(seen, { selector, strength: strengthOf(page, selector), count }, beginning);
    if (usePage.getState().byKeys) page.defaultView?.focus();
  };
  const takeOwn = () =>
    coatsOf(seen)
      .then((coats) => begin({ kind: 'coats', coats }))
      .catch((error: Error) => sayFailure(error.message));
  return (
    <>
      <div className={classes.begin}>
        <Button size="compact-sm" disabled={!can} onClick={() => begin({ kind: 'own' })}>
          {said.giveCoats}
        </Button>
        {has && (
          <Button size="compact-sm" variant="default" disabled={!can} onClick={takeOwn}>
            {said.takeOwn}
          </Button>
        )}
      </div>
      {finishes.length > 0 && (
        <>
          <h3 className={classes.title}>{said.giveFinish}</h3>
          <ul className={classes.finishes}>
            {finishes.map((finish) => (
              <li key={finish.id}>
                <Button
                  size="compact-sm"
                  variant="default"
                  disabled={!can}
                  onClick={() => begin({ kind: 'finish', finish: finish.id })}
                >
                  <Name of={finish.name} />
                </Button>
              </li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}
