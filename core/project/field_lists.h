// The document's fields: DUSK_FIELDS(Type, name...) for each of its types, those first that others hold. Read
// as often as someone has a use for them, who says what DUSK_FIELDS does.
DUSK_FIELDS(AssetRef, path, hash)
DUSK_FIELDS(Stroke, id, run, points, drawn)
DUSK_FIELDS(Footprint, corners, sizeM, ratio, heightM)
DUSK_FIELDS(Pin, at, worldM)
DUSK_FIELDS(KnownLength, from, to, metres, on)
DUSK_FIELDS(Gnomon, base, shadowTip, top)
DUSK_FIELDS(LensProfile, name, k1, k2, vignetting, redScale, blueScale)
DUSK_FIELDS(Evidence, strokes, footprint, pins, lengths, levelLine, focalMm35, heightM, lens, solveK1,
            solveK2, shifted, origin, quarterTurns)
DUSK_FIELDS(Triadd, x, y, z)
DUSK_FIELDS(Camera, width, height, focalPx, cx, cy, k1, k2, axes, position)
DUSK_FIELDS(VantageSigma, focalPx, tiltDegrees, rollDegrees, heightM, k1, k2)
DUSK_FIELDS(Vantage, solved, camera, sigma, rmsPx, locked, straightened)
DUSK_FIELDS(KeptVantage, id, name, evidence, vantage)
DUSK_FIELDS(LevelPlane, id, name, heightM)
DUSK_FIELDS(Surface, id, name, baseColour, metalness, roughness, ior, transmission, clearcoat,
            clearcoatRoughness, emission, anisotropy, anisotropyTurnDegrees, sheen, sheenRoughness,
            sheenColour, thinWalled, absorptionColour, absorptionDepthM, specular, filmNm, filmIor,
            coatColour, opacity, subsurface, subsurfaceMm, scatterColour, scatterDepthM, scatterForward, abbe,
            priority, flakes, flakeMm, flakeTiltDegrees, flakeColour, feeds, coats)
DUSK_FIELDS(Mapping, kind, axis, sizeMm, shiftMm, turnDegrees, scatterMm, eyeMm, aheadMm, up)
DUSK_FIELDS(Feed, kind, on, join, strength, indent, low, high, from, to, sizeMm, stretch, share, detail, seed,
            mapping, picture, texture, channel)
DUSK_FIELDS(Coat, name, on, strength, surface, mask)
DUSK_FIELDS(Decal, id, name, on, picture, page, parts, lay, side, at, normal, axis, pivot, widthMm, heightMm,
            turnDegrees, mirrored, reachMm, steepDegrees, opacity, roughness, metalness, clearcoat, reliefMm)
DUSK_FIELDS(Motion, seconds, picturesPerSecond, shutterDegrees, stillAtSeconds, loops, tracks)
DUSK_FIELDS(PartMove, pivot, axis, shift, turnDegrees)
DUSK_FIELDS(PartRole, seen, mirrored, shadow, lit, alpha, bounce, catcher)
DUSK_FIELDS(Piece, kind, measures, seed)
DUSK_FIELDS(SetRecipe, kind, seed, sliders)
DUSK_FIELDS(Product, id, name, model, metresPerUnit, up, surfaceOfPart, hiddenParts, moves, names,
            groupOfPart, grouping, decals, roles, chordMm, creaseDegrees, piece)
DUSK_FIELDS(Placement, id, productId, xM, yM, liftM, turnDegrees, leanXDegrees, leanYDegrees, levelId,
            cutAtGround)
DUSK_FIELDS(Surroundings, panorama, turnDegrees, gainEv, mirrored, tiltDegrees, rollDegrees, white, contrast,
            saturation, sunApart, sunDiscDegrees, sunMovedDegrees, captureM, captureFound, domeRadiusM,
            reflectionBlurDegrees, lostRangeEv)
DUSK_FIELDS(Lamp, id, name, kind, on, kelvin, powerEv, azimuthDegrees, elevationDegrees, discDegrees,
            positionM, targetM, widthM, heightM, radiusM, coneDegrees, coneSoftness, seenByCamera,
            seenInReflections, castsShadows, aimedAt, colour, shade, picture, crop, leavesOut)
DUSK_FIELDS(StandIn, id, name, kind, positionM, sizeM, turnDegrees, leanDegrees, on, catches, blocks, gloss,
            glossRoughness, glossIor)
DUSK_FIELDS(Backdrop, kind, colour, upper, width, height, focalMm35, cameraHeightM, distanceM, aimHeightM,
            azimuthDegrees, sweepRadiusM, sweepBehindM, aimXM, aimYM, uprightsStraight, locked, floorRadiusM,
            floorSoftness, floorXM, floorYM, floorColour)
DUSK_FIELDS(KeptCamera, id, name, focalMm35, cameraHeightM, distanceM, aimHeightM, azimuthDegrees, aimXM,
            aimYM, uprightsStraight)
DUSK_FIELDS(HeightReference, id, name, foot, top, metres)
DUSK_FIELDS(Contact, groundCatches, gloss, glossRoughness, glossIor, reach, reachFromM, reachToM)
DUSK_FIELDS(Focus, on, fNumber, distanceM, sensorWidthMm, blades, bladeTurnDegrees)
DUSK_FIELDS(RenderSettings, samples, seed, bounces, diffuseBounces, mirrorBounces, glassSides, noiseTarget,
            clampIndirect, caustics, denoise, occlusionM, extraPasses, emptyPasses)
DUSK_FIELDS(LightMix, ev, mired)
DUSK_FIELDS(MaskPoint, at, feather)
DUSK_FIELDS(Mask, name, kind, on, inverted, join, hold, points, curved, widthPx, from, to, soft, parts, layer)
DUSK_FIELDS(Correction, kind, on, strength, values, curve, file, masks)
DUSK_FIELDS(BlendRow, on, strength, corrections, masks)
DUSK_FIELDS(ExtraLayer, id, name, kind, above, mode, file, page, colour, end, from, to, anchor, size, margin,
            row)
DUSK_FIELDS(LensLook, softPx, halo, haloPx, fringe, vignette)
DUSK_FIELDS(GrainLook, sigma, correlation, channels, seed)
DUSK_FIELDS(BlockLook, brightness, colour, colourStep)
DUSK_FIELDS(CutOut, id, name, on, loop, keeps, leaves, softPx, standsAtM, standInId)
DUSK_FIELDS(BlendReference, file, opacity, difference, shift, scale)
DUSK_FIELDS(ViewConfig, file, display, look, linear)
DUSK_FIELDS(BlendSettings, exposureEv, warmth, white, shadowStrength, shadowTint, reflectionStrength, mix,
            view, config, veil, rows, lens, grain, blocks, layers, cutOuts, reference)
DUSK_FIELDS(BlendSnapshot, id, name, blend)
DUSK_FIELDS(PictureFrame, id, name, centre, width, widthPx, heightPx, dpi, aboutProduct)
DUSK_FIELDS(Deliverable, kind, fileName, on, frameId, bits, alpha, quality, mostKb, compression, onePart,
            passes)
DUSK_FIELDS(HandOver, title, creator, rights, keepsExif, version)
DUSK_FIELDS(CleanUp, id, name, on, loop, marginPx, from, choice, horizon)
DUSK_FIELDS(Shot, id, name, plate, backdrop, cleanUps, whiteNits, evidence, vantage, keptVantages, cameras,
            levels, placements, surroundings, lamps, gnomon, otherGnomon, heightReferences, contact, standIns,
            focus, render, blend, snapshots, deliverables, frames, handOver, set, choice, motion)
DUSK_FIELDS(Rig, id, name, surroundings, lamps)
DUSK_FIELDS(VariantOption, id, name, changes)
DUSK_FIELDS(VariantAxis, id, name, options)
DUSK_FIELDS(ExcludedPair, one, other)
DUSK_FIELDS(Project, name, products, surfaces, rigs, shots, axes, excluded)
