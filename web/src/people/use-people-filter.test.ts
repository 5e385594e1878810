import { ref } from 'vue';
import { addressWritten, atAddress } from '../testing/at-address.ts';
import { usePeopleFilter } from './use-people-filter.ts';

const filtered = (parts: readonly object[]): string => encodeURIComponent(JSON.stringify(parts));
const tags = { part: 'tags', how: 'any', ids: [4] };

test('what is typed becomes a part of the filter beside the others, once somebody stops typing, and leaves it again', async () => {
  const router = await atAddress(`/groups/3?filter=${filtered([tags])}&sort=-name`, async () => {
    const { search, parts, query } = usePeopleFilter(ref('yes'));
    expect([search.value, query.value.sort, parts.value]).toEqual(['', '-name', [tags]]);
    search.value = 'a';
    search.value = ' ada ';
    await addressWritten();
    expect(parts.value).toEqual([tags]);
    await new Promise((resolve) => setTimeout(resolve, 250));
    expect(parts.value).toEqual([tags, { part: 'words', text: 'ada' }]);
    search.value = '  ';
    await new Promise((resolve) => setTimeout(resolve, 250));
    expect(parts.value).toEqual([tags]);
  });
  expect(JSON.parse(String(router.currentRoute.value.query['filter']))).toEqual([tags]);
});

test('words of an address are in the search field; who does not fit is asked for only under a filter', async () => {
  await atAddress(`/groups/3?fits=no&subgroups=no&filter=${filtered([{ part: 'words', text: 'bo' }])}`, async () => {
    const { search, parts, query, isNarrowed } = usePeopleFilter(ref('nowhere'));
    expect([search.value, isNarrowed.value]).toEqual(['bo', true]);
    expect(query.value).toMatchObject({ fits: 'no', counted: 'nowhere', subgroups: 'no' });
    parts.value = [];
    expect([query.value.fits, query.value.filter, isNarrowed.value]).toEqual(['yes', '', false]);
    await addressWritten();
  });
});

test('only a list that people are looked for in is one that they can be taken off', async () => {
  const list = (how: string): string => `/groups/3?filter=${filtered([{ part: 'list', how, id: 9 }])}`;
  const found: (number | null)[] = [];
  for (const how of ['in', 'not in'])
    await atAddress(list(how), () => {
      found.push(usePeopleFilter(ref('yes')).listId.value);
    });
  expect(found).toEqual([9, null]);
});
