/** @returns The same id for as long as the same is sent, so that what is sent again after a cut connection takes place once. */
export function useRequestId(): (sent: object) => string {
  let last = '';
  let id = '';
  return (sent) => {
    const now = JSON.stringify(sent);
    if (now !== last) id = crypto.randomUUID();
    last = now;
    return id;
  };
}
