/** The note that lies with the documents; its pictures are files beside it. */
export const readme = async (): Promise<Buffer> =>
  Buffer.from(`---
title: About these documents
lang: en-GB
image: pictures/harbour-map.png
imageAlt: Map of the harbour of Brannoch with both quays
---

# About these documents

Everything that Skerry Sound prints or sends lies here. Take what you need.

![](pictures/tide-curve.png)

The harbour office works out the tides with this formula.

## Who to ask

[![Write to the harbour office](pictures/staff-02.jpg)](mailto:office@skerry-sound.example) The harbour office knows where everything is.

![staff-03.jpg][office]

[office]: pictures/staff-03.jpg
`);
