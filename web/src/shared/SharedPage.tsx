import { Text, Title } from '@mantine/core';
import { useDocumentTitle } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { ApiFailure, answer, api, type Schemas } from '../core/client';
import { words } from '../messages';
import { save } from '../page/download';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import { Lost, Waiting } from '../parts/Message';
import { Quiet } from '../parts/Quiet';
import classes from './SharedPage.module.css';

/** What a link opens: looks, values and code, nothing to change. */
export function SharedPage({ token }: { token: string }) {
  const shared = useQuery({
    queryKey: ['shared', token],
    queryFn: async () => answer(await api.GET('/api/shared/{token}', { params: { path: { token } } })),
  });
  const { data } = shared;
  useDocumentTitle(data ? words.shared.title(data.scene, data.project) : words.common.zolvet);
  if (shared.isError) {
    const dead = shared.error instanceof ApiFailure && shared.error.status === 404;
    return (
      <Lost title={dead ? words.shared.thisLinkDoesNotWork : words.shared.theSceneCouldNotBe}>
        {dead ? words.shared.deadLink : shared.error.message}
      </Lost>
    );
  }
  if (!data) return <Waiting what={words.shared.openingTheScene} />;
  const everything = data.pieces.map((piece) => piece.report.code.css).join('\n');
  const picture = `/api/shared/${token}/picture.png`;
  return (
    <main className={classes.page}>
      <header className={classes.head}>
        <div>
          <Text c="dimmed">{data.project}</Text>
          <Title order={1} size="h2">
            {data.scene}
          </Title>
        </div>
        <div className={classes.actions}>
          <CopyButton text={everything} what={words.shared.allCss} />
          <Quiet onClick={() => save(`${data.scene}.css`, new Blob([everything]))}>
            {words.shared.downloadTheCss}
          </Quiet>
          <a className={classes.download} href={picture} download={`${data.scene}.png`}>
            {words.shared.downloadThePicture}
          </a>
        </div>
      </header>
      <img
        className={classes.picture}
        src={picture}
        alt={words.shared.theScene(data.scene)}
        style={{ maxWidth: data.width }}
      />
      <ul className={classes.pieces}>
        {data.pieces.map((piece) => (
          <SharedPiece key={piece.report.piece} piece={piece} token={token} />
        ))}
      </ul>
    </main>
  );
}

function SharedPiece({ piece, token }: { piece: Schemas['SharedPiece']; token: string }) {
  const { code } = piece.report;
  const look = (state: string) =>
    `/api/shared/${token}/look.png?piece=${encodeURIComponent(piece.report.piece)}${state === 'rest' ? '' : `&state=${state}`}`;
  return (
    <li className={classes.piece} aria-label={piece.name}>
      <div className={classes.looks}>
        {(['rest', ...piece.states] as const).map((state) => (
          <figure key={state} className={classes.look}>
            <img
              src={look(state)}
              width={224}
              height={144}
              loading="lazy"
              alt={words.shared.look(piece.name, words.common.states[state])}
            />
            {piece.states.length > 0 && <figcaption>{words.common.states[state]}</figcaption>}
          </figure>
        ))}
      </div>
      <div className={classes.said}>
        <div className={classes.row}>
          <Title order={2} size="h5">
            {piece.name}
          </Title>
          <CopyButton text={code.css} what={words.common.css} />
        </div>
        <Code className={classes.code} text={code.css} language="css" />
        {code.differences.map((difference) => (
          <Text key={difference.message} size="sm" c="dimmed">
            {difference.message}
          </Text>
        ))}
        <Coats coats={piece.coats} />
        {code.values && (
          <details className={classes.more}>
            <summary>{words.shared.everyNumber}</summary>
            <pre className={classes.values}>{code.values}</pre>
          </details>
        )}
      </div>
    </li>
  );
}

/** What the piece is made of, first what is nearest the eye; a colour can be copied. */
function Coats({ coats }: { coats: Schemas['SharedCoat'][] }) {
  if (coats.length === 0) return null;
  return (
    <ul className={classes.coats}>
      {coats.map((coat, at) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: nothing is added or moved here.
        <li key={at}>
          <span className={classes.dot} data-colour style={{ background: coat.colour ?? 'none' }} />
          <span className={classes.coat}>{coat.name}</span>
          <span className={classes.numbers}>{coat.summary}</span>
          {coat.colour && <CopyButton quiet text={coat.colour} what={coat.colour} />}
        </li>
      ))}
    </ul>
  );
}
