/** What the service and the workers of the page say. */
export const core = {
  // client
  theServiceAnswered: (status: number) => `The service answered ${status}.`,
  // newest
  theServiceDoesNotAnswer: 'The service does not answer.',
  cannotBeShown: (why: string) => `This cannot be shown: ${why}`,
  filesDidNotLoad: 'A picture or font did not load. It is tried again.',
};
