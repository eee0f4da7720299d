import { Text, Title } from '@mantine/core';
import { useDocumentTitle } from '@mantine/hooks';
import { useQuery } from '@tanstack/react-query';
import { ApiFailure, answer, api, type Schemas } from '../core/client';
import { words } from '../messages';
import { Code } from '../parts/Code';
import { CopyButton } from '../parts/CopyButton';
import { Lost, Waiting } from '../parts/Message';
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
          <SharedPiece key={piece.report.piece} piece={piece} />
        ))}
      </ul>
    </main>
  );
}

function SharedPiece({ piece }: { piece: Schemas['SharedPiece'] }) {
  const { code } = piece.report;
  return (
    <li className={classes.piece}>
      <div className={classes.row}>
        <Title order={2} size="h5">
          {piece.name}
        </Title>
        <CopyButton text={code.css} what={words.common.css} />
      </div>
      <Code className={classes.code} text={code.css} language="css" />
      {code.values && <pre className={classes.values}>{code.values}</pre>}
      {code.differences.map((difference) => (
        <Text key={difference.message} size="sm" c="dimmed">
          {difference.message}
        </Text>
      ))}
    </li>
  );
}
