/**
 * Measurements in the browser: first view, weight of its scripts, frames while scrolling, longest
 * task while proving.
 */
import { gzipSync } from 'node:zlib'
import { chromium } from '@playwright/test'
import { CHROMIUM, CHROMIUM_ARGS } from '../chromium.mjs'

const RUNS = 5

export async function browserMeasures(address, median, ten) {
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: CHROMIUM_ARGS })
  const rows = []
  try {
    const times = []
    let weight = 0
    let worker = 0
    // The first visit is weighed, the others are timed: weighing takes time of its own.
    for (let i = 0; i <= RUNS; i++) {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 } })
      const page = await context.newPage()
      // What is fetched ahead and then used is told twice, and weighs once.
      const scripts = new Map()
      if (i === 0)
        page.on('response', r => {
          if (r.url().endsWith('.js') && !scripts.has(r.url()))
            scripts.set(
              r.url(),
              r.body().then(
                b => gzipSync(b).length,
                () => 0,
              ),
            )
        })
      const since = performance.now()
      await page.goto(`${address}/d/glaze-room/sheet`)
      await page.locator('[data-at="0,1"]').waitFor()
      if (i > 0) times.push(performance.now() - since)
      // What is fetched ahead for the other views comes later and does not count.
      if (i === 0)
        for (const [url, script] of [...scripts]) {
          if (url.includes('worker')) worker += await script
          else weight += await script
        }
      await context.close()
    }
    rows.push([
      'First view (sheet of the glaze room), empty cache',
      `${Math.round(median(times))} ms (${Math.round(Math.min(...times))} to ${Math.round(Math.max(...times))})`,
      '',
    ])
    rows.push([
      'Script on the first view, gzipped',
      `${Math.round(weight / 1000)} kB`,
      worker ? `and ${Math.round(worker / 1000)} kB in the worker that checks` : '',
    ])

    const page = await (
      await browser.newContext({ viewport: { width: 1280, height: 800 } })
    ).newPage()
    await page.goto(`${address}/d/glaze-room/bench`)
    const messages = await fillBench(page)
    for (const [what, work] of [
      ['scrolling', scrolled],
      ['zooming', zoomed],
    ]) {
      const frames = await page.evaluate(work)
      const good = frames.filter(ms => ms < 17.5).length / frames.length
      rows.push([
        `Bench, ${messages}: frames under 17.5 ms while ${what}`,
        `${(good * 100).toFixed(1)} %`,
        `of ${frames.length}, longest ${Math.round(Math.max(...frames))} ms`,
      ])
    }

    const { design } = await (
      await page.request.post(`${address}/api/designs`, { data: ten })
    ).json()
    rows.push(await weeks(page, address, design.id))
    rows.push(...(await dragging(page, address)))

    rows.push(await proving(page, address, 'glaze-room', 'the glaze room'))
    rows.push(await proving(page, address, design.id, 'ten loads on four surfaces'))
    await page.request.delete(`${address}/api/designs/${design.id}`)
  } finally {
    await browser.close()
  }
  return rows
}

/**
 * A run of more than 100,000 events, by a script that is played at once; all of it on the screen.
 * Returns what it holds, in words.
 */
async function fillBench(page) {
  const text = ['seed 1', 'at 0 s contacts bounce']
  for (let t = 1; t < 6600; t++)
    text.push(
      `at ${t} s press ${['extractor-button', 'lights-button', 'fan-switch'][t % 3]}`,
      `at ${t}.4 s key apron-phone booth-extractor ${t % 2 ? 'on' : 'off'}`,
      `at ${t}.6 s key office-browser booth-extractor flip`,
    )
  text.push('until 6600 s')
  await page.getByRole('tab', { name: 'Script' }).click()
  await page.locator('input[type=file]').setInputFiles({
    name: 'busy.txt',
    mimeType: 'text/plain',
    buffer: Buffer.from(text.join('\n')),
  })
  await page.getByRole('button', { name: 'Play at once' }).click()
  await page.getByRole('tab', { name: 'Now' }).click()
  await page.getByText(/Now 1 h 50 min/).waitFor({ timeout: 120_000 })
  const events = await page.locator('dt:text-is("Events") + dd').innerText()
  await page.getByRole('button', { name: 'whole run' }).click()
  await page.locator('.bar').getByText('all messages').click()
  await page.waitForTimeout(1500)
  return `${events} events`
}

/**
 * The longest task of a page that proves, shows the causes, finds what repairs all, and does it.
 * Buttons are pressed by the mouse: looking them up by role is work of the page, too.
 */
async function proving(page, address, id, words) {
  await page.goto(`${address}/d/${id}/proof`)
  const press = async button => {
    await button.waitFor({ timeout: 120_000 })
    const { x, y, width, height } = await button.boundingBox()
    await page.waitForTimeout(500)
    await page.evaluate(() => {
      window.quiet = false
    })
    await page.mouse.click(x + width / 2, y + height / 2)
    await page.waitForTimeout(5000)
    await page.evaluate(() => {
      window.quiet = true
    })
  }
  const prove = page.getByRole('button', { name: 'Prove all loads' })
  await prove.waitFor()
  await page.waitForTimeout(2000)
  await page.evaluate(() => {
    window.longest = 0
    window.quiet = true
    new PerformanceObserver(list => {
      for (const e of list.getEntries())
        if (!window.quiet) window.longest = Math.max(window.longest, e.duration)
    }).observe({ type: 'longtask' })
  })
  await press(prove)
  await press(page.getByText('Causes', { exact: true }))
  await press(page.getByRole('button', { name: 'Repair all' }))
  await press(page.getByRole('button', { name: 'Do all' }))
  const longest = Math.round(await page.evaluate(() => window.longest))
  return [
    `Longest task on the main thread: ${words} proved, causes shown, all repaired`,
    longest ? `${longest} ms` : 'none over 50 ms',
    '',
  ]
}

/** Weeks of use of ten loads in the page's own worker: events a second by the clock of the page. */
async function weeks(page, address, id) {
  await page.goto(`${address}/d/${id}/bench`)
  await page.getByRole('tab', { name: 'Weeks' }).click()
  const rates = []
  for (let i = 0; i < 5; i++) {
    await page.getByRole('button', { name: /Play 28 days/ }).click()
    await page.waitForTimeout(300)
    await page
      .getByRole('button', { name: 'stop', exact: true })
      .waitFor({ state: 'detached', timeout: 120_000 })
    const [, events = '', took = ''] =
      /([\d,]+) events in ([\d.]+) s/.exec(
        await page.getByRole('tabpanel').getByRole('status').innerText(),
      ) ?? []
    rates.push(Number(events.replaceAll(',', '')) / Number(took))
  }
  rates.sort((a, b) => a - b)
  return [
    'Bench: events a second in a worker of the browser, 28 days of ten loads',
    `${Math.round(rates[2]).toLocaleString('en')} events/s (${Math.round(rates[0]).toLocaleString('en')} to ${Math.round(rates[4]).toLocaleString('en')})`,
    '',
  ]
}

/**
 * Runs in the page: wheel by wheel over the lanes, some way in so that there is something to
 * scroll.
 */
async function scrolled() {
  const area = document.querySelector('canvas.lanes').parentElement
  const wheel = (deltaY, ctrlKey = false) =>
    area.dispatchEvent(
      new WheelEvent('wheel', { deltaY, ctrlKey, clientY: 500, cancelable: true, bubbles: true }),
    )
  for (let i = 0; i < 4; i++) wheel(-200, true)
  const gaps = []
  let last = await new Promise(requestAnimationFrame)
  for (let i = 0; i < 300; i++) {
    wheel(Math.sin(i / 40) * 60)
    const now = await new Promise(requestAnimationFrame)
    gaps.push(now - last)
    last = now
  }
  return gaps
}

/** From the whole run to ten microseconds a pixel and back. */
async function zoomed() {
  const area = document.querySelector('canvas.lanes').parentElement
  const gaps = []
  let last = await new Promise(requestAnimationFrame)
  for (let i = 0; i < 400; i++) {
    area.dispatchEvent(
      new WheelEvent('wheel', {
        deltaY: i < 200 ? -24 : 24,
        ctrlKey: true,
        clientY: 500,
        cancelable: true,
        bubbles: true,
      }),
    )
    const now = await new Promise(requestAnimationFrame)
    gaps.push(now - last)
    last = now
  }
  return gaps
}

/**
 * Sixty loads on one glass: a key and then ten keys are drawn about, and the frames of that time
 * counted.
 */
async function dragging(page, address) {
  const { design } = await (await page.request.get(`${address}/api/designs/glaze-room`)).json()
  const loads = Array.from({ length: 60 }, (_, i) => ({
    ...design.loads[0],
    id: `load-${i}`,
    name: `Load ${i}`,
  }))
  const [hand, , browser] = design.surfaces
  const link = {
    ...design.links[1],
    messages: loads.map(l => ({
      loadId: l.id,
      ack: true,
      change: true,
      codes: { on: `/${l.id}/on`, off: `/${l.id}/off` },
    })),
  }
  const keys = loads.map((l, i) => ({
    ...browser.keys[0],
    id: l.id,
    loadId: l.id,
    form: 'state',
    xMm: 3 + (i % 10) * 23,
    yMm: 14 + Math.floor(i / 10) * 22,
    widthMm: 21,
    heightMm: 18,
  }))
  const made = await (
    await page.request.post(`${address}/api/designs`, {
      data: {
        ...design,
        id: 'sixty-loads',
        name: 'Sixty loads',
        loads,
        scenes: [],
        surfaces: [
          { ...hand, controls: [] },
          { ...browser, keys },
        ],
        links: [link],
      },
    })
  ).json()
  await page.goto(`${address}/d/${made.design.id}/panels`)
  await page.locator('.np-box').nth(59).waitFor()
  await page.waitForTimeout(3000)
  const drawn = async prepare => {
    await prepare()
    await page.evaluate(() => {
      window.gaps = []
      window.shifts = 0
      window.watching = true
      new PerformanceObserver(list => {
        for (const e of list.getEntries()) window.shifts += e.value
      }).observe({ type: 'layout-shift' })
      let last = performance.now()
      const frame = now => {
        window.gaps.push(now - last)
        last = now
        if (window.watching) requestAnimationFrame(frame)
      }
      requestAnimationFrame(frame)
    })
    const box = await page.locator('.np-box').first().boundingBox()
    await page.mouse.move(box.x + 30, box.y + 30)
    await page.mouse.down()
    for (let i = 0; i < 240; i++)
      await page.mouse.move(
        box.x + 30 + 200 * Math.abs(Math.sin(i / 30)),
        box.y + 30 + 150 * Math.abs(Math.sin(i / 40)),
      )
    const { gaps, shifts } = await page.evaluate(() => {
      window.watching = false
      return { gaps: window.gaps.slice(2), shifts: window.shifts }
    })
    await page.mouse.up()
    await page.keyboard.press('Control+z')
    return [
      `${((gaps.filter(ms => ms < 17.5).length / gaps.length) * 100).toFixed(1)} %`,
      `of ${gaps.length}, longest ${Math.round(Math.max(...gaps))} ms; layout shift ${shifts.toFixed(3)}`,
    ]
  }
  const one = await drawn(async () => {})
  const ten = await drawn(async () => {
    for (let i = 0; i < 10; i++)
      await page
        .locator('.np-box')
        .nth(i)
        .click({ modifiers: ['Shift'] })
  })
  return [
    ['Panels, 60 loads: frames under 17.5 ms while one key is drawn', ...one],
    ['the same, ten keys at once', ...ten],
  ]
}
