import {
  anything,
  days,
  each,
  funnel,
  is,
  kind,
  named,
  onEvent,
  onPerson,
  ranked,
  trend,
  within,
  type Asked,
} from './shapes.js'

const order = named('order_placed')
const viewed = named('product_viewed')
const cart = named('added_to_cart')
const account = named('account_created')
const OCTOBER = days('2026-10-01', '2026-10-31')
const times = { measure: 'events' }
const people = { measure: 'people' }
const tier = onPerson('loyalty_tier')

export const shop: Asked[] = [
  { text: 'orders per week', is: trend({ ...order, ...times }, { every: 'week' }) },
  {
    text: 'revenue by month this year',
    is: trend({ ...order, measure: 'sum', of: onEvent('total') }, { every: 'month', ...days('2026-01-01') }),
  },
  {
    text: 'average order value by country',
    is: trend({ ...order, measure: 'average', of: onEvent('total') }, each(onPerson('country'))),
  },
  { text: 'how many customers bought something last month', is: trend({ ...order, ...people }, OCTOBER) },
  { text: 'what percentage of people who view a product place an order', is: funnel([viewed, order]) },
  {
    text: 'how long does it take from account creation to first purchase',
    is: funnel([account, order], { show: { form: 'time' } }),
  },
  {
    text: 'where do people drop off between viewing a product and ordering',
    is: funnel([viewed, order], { show: { form: 'between' } }),
  },
  {
    text: 'funnel from product viewed to added to cart to checkout started to order placed',
    is: funnel([viewed, cart, named('checkout_started'), order]),
  },
  { text: 'cart to order conversion by device', is: funnel([cart, order], each(onPerson('device'))) },
  { text: 'is conversion better on phone than desktop', is: kind('funnel', each(onPerson('device'))) },
  {
    text: 'top 3 categories by purchases in october',
    is:
      trend({ ...cart }, {}) &&
      kind('trend', { breakdowns: [{ by: onEvent('category'), keep: 3 }], ...OCTOBER, ...ranked }),
  },
  { text: 'which countries have the most orders', is: trend(order, { ...each(onPerson('country')), ...ranked }) },
  {
    text: 'returns by reason as a share',
    is: trend(named('order_returned'), { ...each(onEvent('reason')), show: { as: 'share' } }),
  },
  { text: 'percent of orders with a coupon', is: kind('trend', { formulas: [{ formula: 'a / b', unit: 'percent' }] }) },
  {
    text: 'customers who bought but never returned anything',
    is: {
      rule: {
        of: [
          { kind: 'did', ...order },
          { kind: 'did', ...named('order_returned'), not: true },
        ],
      },
    },
  },
  {
    text: 'people who added to cart more than 3 times in the last 30 days',
    is: {
      rule: {
        of: [{ kind: 'did', ...cart, count: { measure: 'times', test: { op: '>', number: 3 } }, window: { last: 30 } }],
      },
    },
  },
  {
    text: 'customers who viewed both shoes and coats',
    is: {
      rule: {
        of: ['Shoes', 'Coats'].map((value) => ({ kind: 'did', ...viewed, where: is(onEvent('category'), value) })),
      },
    },
  },
  {
    text: 'do gold members order more often than silver members',
    is: trend({ ...order, measure: 'events per person', where: is(tier, 'gold', 'silver') }, each(tier)),
  },
  {
    text: 'compare orders in Norway and Sweden by week',
    is: trend(
      { ...order, where: is(onPerson('country'), 'Norway', 'Sweden') },
      { every: 'week', ...each(onPerson('country')) },
    ),
  },
  { text: 'new vs returning customers each month', is: kind('growth', { interval: { unit: 'month' } }) },
  {
    text: 'monthly churn of customers',
    is: kind('growth', { interval: { unit: 'month' }, show: { state: 'lapsed' } }),
  },
  {
    text: 'who stopped ordering last month',
    is: kind('growth', { start: order, interval: { unit: 'month' }, ...OCTOBER, show: { state: 'lapsed' } }),
  },
  {
    text: 'which country loses the most customers',
    is: kind('growth', { ...each(onPerson('country')), show: { state: 'lapsed' } }),
  },
  { text: 'repeat purchase retention by month', is: kind('retention', { start: order, every: 'month' }) },
  {
    text: 'how many customers came back the month after their first order',
    is: kind('retention', { start: order, first: true, every: 'month', show: { at: 1 } }),
  },
  { text: 'retention by loyalty tier', is: kind('retention', each(tier)) },
  { text: 'time between orders', is: kind('gaps', { start: order }) },
  { text: 'how often do gold customers order', is: kind('habit', { start: { ...order, where: is(tier, 'gold') } }) },
  { text: 'what do people do after adding to cart', is: kind('paths', { start: cart }) },
  { text: 'what do people do before placing an order', is: kind('paths', { start: order, backward: true }) },
  {
    text: 'what happens between starting checkout and placing an order',
    is: kind('paths', { start: named('checkout_started'), end: order }),
  },
  {
    text: 'searches by term this month',
    is: trend(named('search_done'), { ...each(onEvent('term')), range: { last: 1, unit: 'month' } }),
  },
  { text: 'dau', is: trend({ ...anything, ...people }, { every: 'day' }) },
  { text: 'dau/mau', is: kind('trend', { formulas: [{ formula: 'a / b', unit: 'percent' }], every: 'day' }) },
  { text: 'average items per order', is: trend({ ...order, measure: 'average', of: onEvent('items') }) },
  {
    text: 'most expensive orders by country',
    is: trend({ ...order, measure: 'maximum', of: onEvent('total') }, each(onPerson('country'))),
  },
  { text: 'orders this year vs last', is: trend(order, { ...days('2026-01-01'), compare: { to: 'year' } }) },
  {
    text: 'orders last week compared with the week before',
    is: trend(order, { ...days('2026-11-09', '2026-11-15'), compare: { to: 'week' } }),
  },
  {
    text: 'how many orders did we have yesterday',
    is: trend({ ...order, ...times }, { ...days('2026-11-21', '2026-11-21'), show: { form: 'figure' } }),
  },
  { text: 'why did orders drop in october', is: trend(order, { every: 'week' }) },
  {
    text: 'purchase within 7 days of creating an account by device',
    is: funnel([account, order], { ...within(7, 'day'), ...each(onPerson('device')) }),
  },
  {
    text: 'average stars per review',
    is: trend({ ...named('review_written'), measure: 'average', of: onEvent('stars') }),
  },
  { text: 'red and blue products viewed', is: trend({ ...viewed, where: is(onEvent('colour'), 'red', 'blue') }) },
  { text: 'orders paid by invoice', is: trend({ ...order, where: is(onEvent('payment_method'), 'invoice') }) },
  { text: 'biggest category of returns', is: kind('trend', {}) },
  { text: 'who is likely to order in the next 30 days', is: kind('likelihood', { goal: order, days: 30 }) },
  { text: 'what makes customers come back', is: kind('tipping', {}) },
  {
    text: 'new customers by month',
    is: kind('growth', { interval: { unit: 'month' }, show: { form: 'one', state: 'new' } }),
  },
  { text: 'sessions per customer each week', is: kind('sessions', { measure: 'per person', every: 'week' }) },
  { text: 'orders in spring', is: trend(order, { every: 'month', ...days('2026-03-01', '2026-05-31') }) },
  { text: 'how much did we sell last month', is: trend({ ...order, measure: 'sum', of: onEvent('total') }, OCTOBER) },
  {
    text: 'returns per order',
    is: trend([named('order_returned'), order], { formulas: [{ formula: 'a / b' }] }),
  },
  {
    text: 'share of orders paid by card',
    is: trend(
      [
        { ...order, where: is(onEvent('payment_method'), 'card') },
        { ...order, where: undefined },
      ],
      {
        formulas: [{ formula: 'a / b', unit: 'percent' }],
      },
    ),
  },
  {
    text: 'orders from the app vs the website',
    is: trend({ ...order, where: is({ of: 'source' }, 'app', 'website') }, each({ of: 'source' })),
  },
]
