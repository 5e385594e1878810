// The player's own page. It knows the launch only, keeps nothing, and has no right answers.
const page = document.getElementById('page');
const launch = location.hash.slice(1);

const ask = async (path, content) => {
  const answer = await fetch(path, {
    method: content ? 'POST' : 'GET',
    credentials: 'omit',
    headers: { 'X-Launch': launch, ...(content ? { 'Content-Type': 'application/json' } : {}) },
    ...(content ? { body: JSON.stringify(content) } : {}),
  });
  if (!answer.ok) throw new Error(String(answer.status));
  return answer.json();
};

const make = (tag, attributes = {}, ...children) => {
  const element = document.createElement(tag);
  for (const [name, value] of Object.entries(attributes)) {
    if (name === 'onclick') element.addEventListener('click', value);
    else element.setAttribute(name, value);
  }
  element.append(...children);
  return element;
};

const backLink = () => make('p', {}, make('a', { href: '/my-courses' }, 'Back to my courses'));

const failed = () =>
  page.replaceChildren(
    make('p', { class: 'problem', role: 'alert' }, 'This course cannot be opened here any more. Open it again from your courses.'),
    backLink(),
  );

async function showCourse(note) {
  const { course, learner, units } = await ask('course');
  document.title = course.name;
  page.replaceChildren(
    backLink(),
    make('h1', {}, course.name),
    make('p', {}, note ?? `Hello ${learner}. Take the activities in any order.`),
    ...units.flatMap((unit) => [
      make('h2', {}, unit.name),
      make(
        'ul',
        {},
        ...unit.activities.map((activity) =>
          make(
            'li',
            activity.finishedBy === 'player' ? {} : { class: 'own' },
            make(
              'span',
              {},
              activity.name,
              ...(activity.finished
                ? [' ', make('span', { class: 'done' }, activity.score === null ? 'done' : `done, score ${Math.round(activity.score)}`)]
                : []),
            ),
            ...(activity.finishedBy === 'player' ? [beginButton(activity)] : ownActivity(course, activity)),
          ),
        ),
      ),
    ]),
  );
}

const beginButton = (activity) =>
  make(
    'button',
    {
      type: 'button',
      'aria-label': `${activity.finished ? 'Repeat' : 'Begin'} ${activity.name}`,
      onclick: () => begin(activity).catch(failed),
    },
    activity.finished ? 'Repeat' : 'Begin',
  );

/** What is ticked off or handed in is shown here; the act itself waits in the learner's own courses. */
const ownActivity = (course, { name, finishedBy, content }) => [
  ...(content?.words ? [make('p', { class: 'said' }, content.words)] : []),
  ...(content?.link ? [make('p', {}, make('a', { href: content.link, rel: 'noopener noreferrer', target: '_blank' }, content.link))] : []),
  make(
    'a',
    { href: `/my-work/${course.id}`, 'aria-label': `${finishedBy === 'learner' ? 'Tick off' : 'Hand in'}: ${name}` },
    `${content?.hasFile ? 'Get the file and ' : ''}${finishedBy === 'learner' ? 'tick it off' : 'hand it in'} in your courses`,
  ),
];

async function begin(activity) {
  const { exercises, begun } = await ask(`activities/${activity.id}`);
  if (!activity.scored) {
    page.replaceChildren(
      make('h1', {}, activity.name),
      make('p', {}, 'Read through the crew notes for this activity, talk them over with your crew, and mark it as done.'),
      make(
        'button',
        { type: 'button', class: 'main', onclick: () => finish({ activityId: activity.id, begun }).catch(failed) },
        'I have done this',
      ),
    );
    return;
  }
  const form = make(
    'form',
    {},
    ...exercises.map(({ question, answers }, index) =>
      make(
        'fieldset',
        {},
        make('legend', {}, question),
        ...answers.map((answer, place) =>
          make('label', {}, make('input', { type: 'radio', name: `q${index}`, value: String(place) }), `${answer} miles`),
        ),
      ),
    ),
    make('button', { class: 'main' }, 'Hand in'),
  );
  form.addEventListener('submit', (event) => {
    event.preventDefault();
    const data = new FormData(form);
    finish({
      activityId: activity.id,
      begun,
      answers: exercises.map((_, index) => (data.has(`q${index}`) ? Number(data.get(`q${index}`)) : -1)),
    }).catch(failed);
  });
  page.replaceChildren(make('h1', {}, activity.name), form);
}

async function finish(done) {
  const { score } = await ask('finish', done);
  await showCourse(score === null ? 'Done.' : `Done. Your score: ${score}.`);
}

showCourse().catch(failed);
