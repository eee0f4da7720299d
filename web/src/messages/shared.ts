/** A scene behind a link. */
export const shared = {
  look: (piece: string, state: string) => `${piece}, ${state.toLowerCase()}`,
  everyNumber: 'Every number, to be typed elsewhere',
  downloadTheCss: 'Download the CSS',
  // SharedPage
  thisLinkDoesNotWork: 'This link does not work',
  theSceneCouldNotBe: 'The scene could not be read',
  deadLink: 'It was revoked or is incomplete. Ask the sender for a new one.',
  title: (scene: string, project: string) => `${scene} · ${project}`,
  openingTheScene: 'Opening the scene',
  allCss: 'all CSS',
  downloadThePicture: 'Download the picture',
  theScene: (scene: string) => `The scene ${scene}`,
};
