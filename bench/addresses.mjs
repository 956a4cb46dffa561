// Which addresses are measured: one for each page the application has, and one for each filter of it. The pages come from the application itself; what
// stands for their parts and filters is said here, and a page or a filter that is not said ends it with an error, so that a new one cannot be forgotten.

/** The month that is looked at; the payee whose own pages are. */
export const month = '2026-11';
export const payee = 'bram-pucknell';

/**
 * @param routes the lines that `--addresses` prints: a pattern, then its parameters
 * @param found what was found in the book; undefined where it has nothing of the kind
 * @returns pairs of what is printed and what is asked for; without an address where the book has nothing of the kind
 */
export function pagesOf(routes, found) {
  const pages = [];
  for (const line of routes) {
    const [pattern, ...says] = line.split(' ');
    // Files are written as they are sent; how long they take is their length.
    if (says.some((s) => s.startsWith('handler='))) continue;
    const short = pattern.replace('/{period:period}', '') || '/desk';
    const address = addressOf(pattern, short, found);
    pages.push([short, address]);
    if (!address) continue;
    for (const parameter of says) {
      if (parameter === 'period') continue;
      const values = filters(found)[`${short} ${parameter}`];
      if (!values) throw new Error(`${short}?${parameter}=: say in bench/addresses.mjs what it may be.`);
      for (const value of values.filter((v) => v !== undefined)) pages.push([`${short}?${parameter}=${decodeURIComponent(value)}`, `${address}?${parameter}=${encodeURIComponent(decodeURIComponent(value))}`]);
    }
  }
  for (const together of ['/sales?sort=Charged&down=true&skip=50', '/sales?kind=exceptions&channel=shop', '/sales?channel=shop&by=hedge-friend-0007&sort=House', '/pay/bench/processors?shows=Agreed&from=2']) {
    pages.push([together, `/${month}${together}`]);
  }
  // Who leaves sees no more of a payee's pages.
  return pages.sort(([a], [b]) => (a === '/me/leave') - (b === '/me/leave'));
}

/** Undefined where the book has nothing of the kind. */
function addressOf(pattern, short, found) {
  const parts = {
    '/sales/{orderId}': { orderId: found.order }, '/people/{id}': { id: 'ines-fennelow' }, '/terms/products/{id}': { id: 'guide-hedgerow' }, '/terms/paths/{id}': { id: found.path },
    '/terms/{id}': { id: 'friends-of-the-hedge' }, '/pay/{id:int}': { id: found.run, payee }, '/sales/imports/{id:int}': { id: found.import }, '/terms/bulk/{id:int}': { id: found.bulk },
    '/terms/rehearsals/{id:int}': { id: undefined }, '/apply/{agreement?}': { agreement: 'friends-of-the-hedge' }, '/friends/{token}': { token: undefined }, '/guide/{chapter?}': { chapter: 'pay' },
    '/me/agreements/{agreement?}': { agreement: found.agreement ?? '' }, '/me/ledger/{entry:long}': { entry: found.ownEntry }, '/me/statements/{run:int?}': { run: '' }, '/pay/bench/{bench=processors}': { bench: 'processors' },
  };
  const known = Object.entries(parts).filter(([p]) => short.startsWith(p)).sort((a, b) => b[0].length - a[0].length)[0]?.[1] ?? {};
  let address = pattern.replace('{period:period}', month);
  for (const [part, value] of Object.entries(known)) {
    if (value === undefined) return undefined;
    address = address.replace(new RegExp(`/?\\{${part}(:int|:long)?(\\?|=[a-z]+)?\\}`), value === '' ? '' : `/${value}`);
  }
  if (address.includes('{')) throw new Error(`${pattern}: say in bench/addresses.mjs what stands for its parts.`);
  return address;
}

/** What a query may say, by page and parameter. Empty: it only fills a form, or leads to what is measured anyway. */
const filters = (found) => ({
  '/apply/answer token': [], '/apply/confirm token': [], '/apply/invitation token': [], '/apply/{agreement?} sent': [], '/error code': [], '/setup code': [],
  '/me/enter to': [], '/me/enter token': [], '/me/ledger after': [found.ownAfter], '/me/links month': [month], '/me/links to': [], '/me/questions entry': [found.ownEntry], '/me/questions run': [], '/me/sign-in returnurl': [],
  '/books after': [found.booksAfter], '/books kind': ['earnings', 'reversals'], '/books role': ['affiliate', 'vendor'],
  '/books/journal account': ['clearing'], '/books/journal from': ['2026-11-01'], '/books/journal to': ['2026-11-30'],
  '/books/record before': ['1000'], '/books/record by': ['Lena Marrow'], '/books/record from': ['2026-11-01'], '/books/record thing': ['run:1'], '/books/record to': ['2026-11-30'],
  '/find find': ['B-0912345', 'hedge', 'no such text'], '/guide/{chapter?} find': ['refund', 'no such text'],
  '/pay/ahead all': ['true'], '/pay/ahead asof': ['2026-12-31', '2027-01-31'], '/pay/ahead schedule': ['monthly'], '/pay/owed who': ['left', 'below'], '/pay/{id:int} all': ['true'],
  '/pay/bench/{bench=processors} finding': [], '/pay/bench/{bench=processors} from': ['2'], '/pay/bench/{bench=processors} row': [], '/pay/bench/{bench=processors} shows': ['Open', 'Settled', 'Agreed', 'All'],
  '/people find': ['fennel'], '/people role': ['vendor'], '/people/applications after': [], '/people/applications open': [], '/people/applications shows': ['Waiting', 'AskedBack', 'Decided'],
  '/people/contacts agreement': ['friends-of-the-hedge'], '/people/contacts language': ['en'], '/people/contacts role': ['Affiliate'], '/people/contacts since': ['2026-10'],
  '/people/new id': [], '/people/{id} after': [found.payeeAfter], '/people/{id} entry': [found.entry],
  '/sales after': [found.salesAfter], '/sales by': ['hedge-friend-0007', 'nobody'], '/sales channel': ['open-field-market', 'shop'], '/sales down': [], '/sales find': ['0912345', 'FRIEND0042', 'no such text'],
  '/sales kind': ['paid', 'unpaid', 'exceptions', 'refunded', 'test', 'contested', 'selfreferral'], '/sales skip': [], '/sales sort': ['Order', 'Charged', 'House'],
  '/sales/assign orders': [found.order], '/sales/by-hand kind': ['Refund'], '/sales/clicks payee': ['hedge-friend-0007'], '/sales/import kind': ['Refunds'], '/sales/quarantine why': ['no such cause'],
  '/sales/sources payee': [], '/sales/sources to': [], '/sales/{orderId} entry': [found.entry], '/set-up/mails kind': [],
  '/terms/coverage basis': ['Referral'], '/terms/coverage collection': ['prints'], '/terms/coverage columns': ['2'], '/terms/coverage part': ['2'],
  '/terms/new copy': ['friends-of-the-hedge'], '/terms/new id': [], '/terms/new saved': [], '/terms/{id}/next copy': [], '/terms/{id}/next saved': [],
  '/terms/products collection': ['prints'], '/terms/products/{id} brought': ['yes'], '/terms/rehearsals/{id:int} order': [], '/terms/rewards since': ['2026-11-01'], '/terms/rewards until': ['2026-11-30'],
});
