// Asks for what the first view needs while the program is still being read; `takeEarly` (web/src/api/early.ts) hands the answers out.
(() => {
  const asked = new Map();
  const ask = (address) => {
    const answer = fetch(address, { headers: { 'X-Oiseau': '1' } });
    // Whoever takes it hears of a failure.
    answer.catch(() => undefined);
    asked.set(address, answer);
  };
  const album = /^\/albums\/([0-9a-f-]{36})(?:\/|$)/.exec(location.pathname)?.[1];
  // With a key in the address there is no session yet, and whoever was asked to listen has none.
  if (location.hash === '' && !location.pathname.startsWith('/listen/')) {
    ask('/api/session');
    if (album) {
      ask(`/api/albums/${album}`);
      ask(`/api/albums/${album}/masters?curves=false`);
    }
  }
  window.oiseauEarly = asked;
})();
