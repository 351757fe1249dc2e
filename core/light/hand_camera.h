#pragma once
#include "core/project/project.h"

/// The camera of a picture without a photo, set by hand.
namespace dusk {

/// The camera that a backdrop sets by hand, for a picture of that size: it looks at a point, which is in the
/// picture's middle. With straight uprights it looks level, and its principal point lies where that brings
/// the point there: what a shift lens does. A panorama is right from where it was taken only: its camera
/// stands over the origin itself and looks the same way, unless it `walks`.
Camera handCamera(const Backdrop& backdrop, int width, int height, bool walks = false);

/// Whether the camera may walk about in the panorama that is its backdrop: how far its walls are is told.
bool walksInPanorama(const Shot& shot);
/// Tells how far the walls of the shot's panorama are from where it was taken, metres; 0: far away, alike
/// from everywhere. A camera that may walk about from now on begins where it stands.
void setWalls(Shot& shot, double metres);
/// Sets the camera of a picture of that size by the shot's backdrop. One that walks about in a panorama stays
/// within its walls; else the panorama was taken where the camera stands.
void placeByHand(Shot& shot, int width, int height);
/// The shot's camera is the one that its backdrop sets: of the backdrop's size, before a photo of that one's.
void setCameraByHand(Shot& shot);

/// The backdrop's camera as it is, to be put aside; and back in its place.
KeptCamera keptOf(const Backdrop& backdrop);
void useKept(Backdrop& backdrop, const KeptCamera& camera);

/// Where it stands and what it looks at, metres.
struct HandLook {
  Vec3d position, aim;
};
HandLook lookOf(const Backdrop& backdrop);
/// The way it looks comes out as azimuth, distance and heights.
void setLook(Backdrop& backdrop, const HandLook& look);

/// Goes round a point, which keeps its distance, and its spot in the picture but for the lens: to the right,
/// and upwards as far as a little short of straight above or below.
void turnAbout(Backdrop& backdrop, const Vec3d& point, double rightDegrees, double upDegrees);
/// Sideways and up or down, so that what is at a point goes along with the pointer, in pixels of `camera`.
void slideBy(Backdrop& backdrop, const Camera& camera, const Vec3d& point, const Vec2d& px);
/// Towards a point by a factor of its distance, and away from it; what it looks at moves likewise.
void goNearer(Backdrop& backdrop, const Vec3d& point, double factor);
/// Level steps ahead and to the right, and up.
void walk(Backdrop& backdrop, double aheadM, double rightM, double upM);
/// Another lens; what is looked at keeps its size in the picture: the camera goes as much farther as that is
/// longer.
void swapLens(Backdrop& backdrop, double focalMm35);
/// Goes to where a thing of that true size, which stands on the ground below what is looked at, is half as
/// tall as the picture, or as wide; it looks the same way as before.
void lookAtThing(Backdrop& backdrop, const Vec3d& sizeM);

}  // namespace dusk
